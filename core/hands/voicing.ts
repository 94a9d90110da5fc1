import { Note } from 'tonal'
import type { MidiPitch } from '../music/pitch'
import { leadVoices, movement } from './voice-leading'

/** Where a hand plays chords, and how many notes it takes. */
export interface VoicingRoom {
  readonly lowest: MidiPitch
  readonly highest: MidiPitch
  readonly centre: MidiPitch
  readonly mostNotes: number
}

/**
 * The right hand's: close chords muddy below about C3, and the bass is the other hand's. Own choice around common
 * practice.
 */
export const RIGHT_ROOM: VoicingRoom = { lowest: 55, highest: 79, centre: 66, mostNotes: 4 }

export const VOICING = {
  /** For each half step that a chord's middle lies from the room's. */
  awayFromCentre: 0.15,
  /** A second at the top or bottom of a chord is harsh: costs so much. */
  harsh: 0.6,
} as const

/**
 * A chord as names, root first. `bass`: the note that has to lie lowest, one of the chord's or not; `below`, `above`:
 * keys that it may not reach.
 */
export interface ChordToVoice {
  readonly notes: readonly string[]
  readonly bass?: string
  readonly below?: MidiPitch
  readonly above?: MidiPitch
}

/**
 * The inversions that lead from chord to chord with the least movement: for each chord the pitches from low to high,
 * all of them together as little moved as can be (dynamic programming). Chords of more notes than the room takes leave
 * out the fifth, then the root (common practice), and one for which there is too little room as much as they must: at
 * last all of it.
 */
export function voiceChords(chords: readonly ChordToVoice[], room = RIGHT_ROOM): MidiPitch[][] {
  const choices = chords.map(chord => inversionsOf(chord, room))
  const moved = new Map<string, number>()
  const movementOf = (from: readonly MidiPitch[], to: readonly MidiPitch[]) => {
    const name = `${from.join()}>${to.join()}`
    const known = moved.get(name)
    if (known !== undefined) return known
    const cost = from.length === 0 || to.length === 0 ? 0 : movement(leadVoices(from, to))
    moved.set(name, cost)
    return cost
  }
  let costs = (choices[0] ?? []).map(pitches => ownCost(pitches, room))
  const befores: number[][] = []
  for (let place = 1; place < choices.length; place++) {
    const before: number[] = []
    costs = choices[place]!.map((pitches, index) => {
      let best = Number.POSITIVE_INFINITY
      choices[place - 1]!.forEach((from, way) => {
        const cost = costs[way]! + movementOf(from, pitches)
        if (cost >= best) return
        best = cost
        before[index] = way
      })
      return best + ownCost(pitches, room)
    })
    befores.push(before)
  }
  let way = costs.reduce((least, cost, index) => (cost < costs[least]! ? index : least), 0)
  const voiced: MidiPitch[][] = []
  for (let place = choices.length - 1; place >= 0; place--) {
    voiced.unshift(choices[place]![way]!)
    way = befores[place - 1]?.[way] ?? 0
  }
  return voiced
}

/** Every close position of a chord that the room has, at least one: with as many of its notes as go in. */
function inversionsOf({ notes, bass, below = 128, above = -1 }: ChordToVoice, room: VoicingRoom): MidiPitch[][] {
  const [lowest, highest] = [Math.max(room.lowest, above + 1), Math.min(room.highest, below - 1)]
  const all = bass === undefined || notes.includes(bass) ? notes : [bass, ...notes]
  for (let most = Math.min(room.mostNotes, all.length); most > 0; most--) {
    for (const some of choicesOf(notes, all, most, bass)) {
      const found = inversionsWithin(some, bass, lowest, highest)
      if (found.length > 0) return found
    }
  }
  return [[]]
}

/**
 * So many of a chord's notes with its bass among them, the best choice first: without the fifth, then without the root,
 * then without whatever else.
 */
function choicesOf(notes: readonly string[], all: readonly string[], most: number, bass?: string): string[][] {
  const isFifth = (note: string) => (Note.get(note).step - Note.get(notes[0]!).step + 7) % 7 === 4
  const loss = (note: string) =>
    note === bass ? 1000 : isFifth(note) && note !== notes[0] ? 1 : note === notes[0] ? 10 : 100
  const sets = subsetsOf(all, most).map(some => ({
    some,
    lost: all.filter(note => !some.includes(note)).reduce((sum, note) => sum + loss(note), 0),
  }))
  return sets
    .filter(({ lost }) => lost < 1000)
    .sort((a, b) => a.lost - b.lost)
    .map(({ some }) => some)
}

function subsetsOf(all: readonly string[], size: number): string[][] {
  if (size === 0) return [[]]
  return all.flatMap((first, index) => subsetsOf(all.slice(index + 1), size - 1).map(rest => [first, ...rest]))
}

function inversionsWithin(
  notes: readonly string[],
  bass: string | undefined,
  lowest: MidiPitch,
  highest: MidiPitch,
): MidiPitch[][] {
  const chromas = [...new Set(notes.map(note => Note.chroma(note)))].filter(
    (one): one is number => one !== undefined && !Number.isNaN(one),
  )
  const bottoms = bass === undefined ? chromas : [Note.chroma(bass)]
  const found: MidiPitch[][] = []
  for (let bottom = lowest; bottom <= highest && bottom < lowest + 24; bottom++) {
    if (!bottoms.includes(bottom % 12)) continue
    const pitches = chromas.map(one => bottom + ((one - (bottom % 12) + 12) % 12)).sort((a, b) => a - b)
    if (pitches.at(-1)! <= highest) found.push(pitches)
  }
  return found
}

function ownCost(pitches: readonly MidiPitch[], { centre }: VoicingRoom): number {
  if (pitches.length === 0) return 0
  const mean = pitches.reduce((sum, pitch) => sum + pitch, 0) / pitches.length
  const seconds = pitches.filter(
    (pitch, index) => index > 0 && pitch - pitches[index - 1]! === 1 && (index === 1 || index === pitches.length - 1),
  ).length
  return Math.abs(mean - centre) * VOICING.awayFromCentre + seconds * VOICING.harsh
}
