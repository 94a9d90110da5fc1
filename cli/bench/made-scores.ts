import { seededChance } from '#core/players/randomness'
import type { Arrangement, Bar, Hand, Note } from '#core/music/arrangement'
import { barLength, type Meter } from '#core/music/meter'
import { playingOrder } from '#core/music/playing-order'
import { midiOf, spellInKey } from '#core/music/pitch'
import { add, compare, equal, quarters, subtract, toDecimal, ZERO, type Quarters } from '#core/music/quarters'

/**
 * A score made by chance for two hands: in any meter, with what beginners' scores have. The same recipe gives the same
 * score.
 */
export interface Recipe {
  name: string
  /** In turn, bar after bar. */
  meters: readonly Meter[]
  bars: number
  fifths: number
  seed: number
  /** How the left hand accompanies: chords held, bass and chords in turn, broken chords, or a line of its own. */
  left: 'held' | 'bass-and-chords' | 'broken' | 'line'
  /** Notes of the right hand tied over the bar line now and then. */
  ties?: boolean
  /** Its second half is its first again, note for note. */
  returns?: boolean
  /** The first `bars` are repeated, and followed by as many others. */
  repeat?: boolean
  /** Each note has a finger. */
  fingers?: boolean
  /** Eighths are to be swung, two to one. */
  swing?: boolean
}

const FOUR: Meter = { beats: 4, beatType: 4 }
const THREE: Meter = { beats: 3, beatType: 4 }
const SIX: Meter = { beats: 6, beatType: 8 }

/** One score of each kind that the ear must be right about. */
export const RECIPES: readonly Recipe[] = [
  { name: '4/4', meters: [FOUR], bars: 16, fifths: 2, seed: 11, left: 'bass-and-chords', ties: true, fingers: true },
  { name: '3/4', meters: [THREE], bars: 16, fifths: -3, seed: 12, left: 'bass-and-chords', ties: true },
  { name: '2/4', meters: [{ beats: 2, beatType: 4 }], bars: 20, fifths: 0, seed: 13, left: 'broken' },
  { name: '6/8', meters: [SIX], bars: 16, fifths: 1, seed: 14, left: 'held', ties: true },
  { name: '9/8', meters: [{ beats: 9, beatType: 8 }], bars: 12, fifths: -1, seed: 15, left: 'held' },
  { name: '12/8', meters: [{ beats: 12, beatType: 8 }], bars: 10, fifths: 4, seed: 16, left: 'broken' },
  { name: '5/4', meters: [{ beats: 5, beatType: 4 }], bars: 12, fifths: 3, seed: 17, left: 'held' },
  { name: '7/8', meters: [{ beats: 7, beatType: 8, groups: [2, 2, 3] }], bars: 14, fifths: -2, seed: 18, left: 'held' },
  { name: '3/4 and 6/8 in turn', meters: [THREE, THREE, SIX, SIX], bars: 16, fifths: 0, seed: 19, left: 'held' },
  {
    name: '4/4, its second half as its first',
    meters: [FOUR],
    bars: 24,
    fifths: 1,
    seed: 20,
    left: 'line',
    returns: true,
  },
  {
    name: '3/4, its second half as its first',
    meters: [THREE],
    bars: 32,
    fifths: -1,
    seed: 21,
    left: 'bass-and-chords',
    returns: true,
  },
  { name: '4/4, swung', meters: [FOUR], bars: 16, fifths: -1, seed: 23, left: 'broken', swing: true },
  { name: '4/4 with a repeat', meters: [FOUR], bars: 8, fifths: 0, seed: 22, left: 'held', repeat: true },
]

/** How a plain quarter and a dotted one are filled. */
const PLAIN: readonly Quarters[][] = [
  [quarters(1)],
  [quarters(1)],
  [quarters(1, 2), quarters(1, 2)],
  [quarters(1, 2), quarters(1, 2)],
  [quarters(3, 4), quarters(1, 4)],
]
const DOTTED: readonly Quarters[][] = [
  [quarters(3, 2)],
  [quarters(1, 2), quarters(1, 2), quarters(1, 2)],
  [quarters(1), quarters(1, 2)],
  [quarters(1, 2), quarters(1, 2), quarters(1, 2)],
]

/** Felt beats of a bar in quarter notes. */
function beatsOf({ beats, beatType, groups }: Meter): Quarters[] {
  if (groups) return groups.map(count => quarters(count * 4, beatType))
  if (beatType === 8) return Array.from({ length: beats / 3 }, () => quarters(3, 2))
  return Array.from({ length: beats }, () => quarters(1))
}

const SCALE = ['C', 'D', 'E', 'F', 'G', 'A', 'B']
/** The key of a step of the key's scale, counted from the C below the staff. */
function pitchOf(degree: number, fifths: number): number {
  const letter = SCALE[((degree % 7) + 7) % 7]!
  const sharps = ['F', 'C', 'G', 'D', 'A', 'E', 'B']
  const alter =
    fifths > 0 && sharps.slice(0, fifths).includes(letter)
      ? 1
      : fifths < 0 && sharps.slice(fifths).includes(letter)
        ? -1
        : 0
  return midiOf(letter, alter, Math.floor(degree / 7))
}

export function madeScore(recipe: Recipe): Arrangement {
  const {
    meters,
    fifths,
    seed,
    left,
    ties = false,
    returns = false,
    repeat = false,
    fingers = false,
    swing = false,
  } = recipe
  const chance = seededChance(seed)
  const count = repeat ? 2 * recipe.bars : recipe.bars
  const written = returns ? recipe.bars / 2 : count
  const bars: Bar[] = []
  const notes: Note[] = []
  let start = ZERO
  let degree = 37
  const add_ = (hand: Hand, barIndex: number, onset: Quarters, duration: Quarters, degrees: readonly number[]) => {
    for (const one of degrees) {
      const pitch = pitchOf(one, fifths)
      notes.push({
        id: '',
        hand,
        barIndex,
        onset,
        duration,
        pitch,
        spelled: spellInKey(pitch, fifths),
        voice: hand === 'right' ? '1' : '5',
        tiedIds: [],
        ...(fingers ? { finger: 1 + (((one % 5) + 5) % 5) } : {}),
      })
    }
  }
  for (let index = 0; index < count; index++) {
    const meter = meters[index % meters.length]!
    const length = barLength(meter)
    bars.push({
      index,
      number: index + 1,
      start,
      length,
      offset: ZERO,
      meter,
      fifths,
      ...(repeat && index === recipe.bars - 1 ? { repeatEnd: 2 } : {}),
      ...(repeat && index === 0 ? { repeatStart: true } : {}),
    })
    if (index < written) {
      let at = start
      const root = 21 + Math.floor(7 * chance.uniform())
      beatsOf(meter).forEach((beat, place) => {
        const cells = equal(beat, quarters(3, 2)) ? DOTTED : equal(beat, quarters(1)) ? PLAIN : [[beat]]
        let inside = at
        for (const value of chance.pick(cells)) {
          degree += chance.pick([-3, -2, -1, -1, 1, 1, 2, 3, 4])
          if (degree > 45) degree -= 7
          if (degree < 34) degree += 7
          add_('right', index, inside, value, [degree])
          inside = add(inside, value)
        }
        const third = place % 2 === 0 ? 0 : 2
        if (left === 'bass-and-chords')
          add_('left', index, at, beat, place === 0 ? [root] : [root + 2, root + 4, root + 7].slice(0, 2 + (place % 2)))
        if (left === 'broken') add_('left', index, at, beat, [root + [0, 4, 2, 4][place % 4]!])
        if (left === 'line') add_('left', index, at, beat, [root + third + Math.floor(3 * chance.uniform())])
        at = add(at, beat)
      })
      if (left === 'held') {
        const beats = beatsOf(meter)
        const half = beats.slice(0, Math.ceil(beats.length / 2)).reduce(add, ZERO)
        const chord = [root, root + 2, root + 4]
        add_('left', index, start, half, chord)
        if (compare(half, length) < 0)
          add_(
            'left',
            index,
            add(start, half),
            subtract(length, half),
            chord.map(one => one + 1),
          )
      }
    }
    start = add(start, length)
  }
  if (returns) {
    const half = bars[written]!.start
    for (const note of [...notes])
      notes.push({ ...note, barIndex: note.barIndex + written, onset: add(note.onset, half) })
  }
  const arrangement: Arrangement = {
    format: 'half-step/arrangement',
    version: 1,
    title: recipe.name,
    composer: '',
    bars,
    order: playingOrder(bars),
    notes: [...(ties ? tiedOver(notes, bars) : notes)]
      .sort((a, b) => compare(a.onset, b.onset) || a.pitch - b.pitch)
      .map((note, index) => ({ ...note, id: `n${index + 1}` })),
    others: [],
    chords: [],
    lyrics: [],
    pedals: [],
    dynamics: [],
    tempos: [{ onset: ZERO, quarterBpm: 100 }],
    ...(swing ? { swings: [{ onset: ZERO, unit: 'eighth' as const, ratio: 2 }] } : {}),
    rehearsals: [],
    warnings: [],
  }
  return arrangement
}

/** Every third bar line is tied over: the last note of the right hand sounds on, and the first after it goes. */
function tiedOver(notes: readonly Note[], bars: readonly Bar[]): Note[] {
  const gone = new Set<Note>()
  const longer = new Map<Note, Note>()
  for (let index = 1; index < bars.length; index += 3) {
    const { start } = bars[index]!
    const right = notes.filter(note => note.hand === 'right')
    const before = right.filter(note => equal(add(note.onset, note.duration), start)).at(-1)
    const after = right.find(note => equal(note.onset, start))
    if (!before || !after || toDecimal(after.duration) < 0.5) continue
    gone.add(after)
    longer.set(before, { ...before, duration: add(before.duration, after.duration), tiedAt: [start] })
  }
  return notes.filter(note => !gone.has(note)).map(note => longer.get(note) ?? note)
}
