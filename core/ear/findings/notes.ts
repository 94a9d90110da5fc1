import { bisector } from 'd3-array'
import { spellInKey } from '../../music/pitch'
import type { Heard, HeardNote } from '../heard'
import { passedOver } from './route'
import { atPlaces, type WeightedFinding } from './weighed'

/**
 * Wrong, missed and octave-displaced notes, gathered by bar and hand: a place to work on rather than a list of slips.
 * `told`: notes already covered by a habit, by index.
 */
export function noteFindings(heard: Heard, told: ReadonlySet<number>): WeightedFinding[] {
  const past = passedOver(heard)
  const faulty = heard.notes.filter(
    note =>
      note.outcome !== 'right' && !note.sharedKey && !note.isLeftOut && !past.has(note.index) && !told.has(note.index),
  )
  const octaves = faulty.filter(note => note.outcome === 'wrong' && isOctave(note))
  return [
    ...byPlace(faulty.filter(note => note.outcome === 'wrong' && !isOctave(note))).map(group =>
      wrongFinding(heard, group),
    ),
    ...byPlace(octaves).map(octaveFinding),
    ...byPlace(faulty.filter(note => note.outcome === 'missed')).map(missedFinding),
  ]
}

export const isOctave = ({ stroke, written }: HeardNote): boolean =>
  stroke !== undefined && (stroke.pitch - written.pitch) % 12 === 0

/** The name of the key that was struck, as it would be written in the key of that bar: F#4. */
export const struckName = ({ arrangement }: Heard, pitch: number, barIndex: number): string =>
  spellInKey(pitch, arrangement.bars[barIndex]?.fifths ?? 0)

function byPlace(notes: readonly HeardNote[]): HeardNote[][] {
  const places = new Map<string, HeardNote[]>()
  for (const note of notes) {
    const key = `${note.written.hand}:${note.written.barIndex}:${note.written.time}`
    const group = places.get(key)
    if (group) group.push(note)
    else places.set(key, [note])
  }
  return [...places.values()]
}

function wrongFinding(heard: Heard, group: readonly HeardNote[]): WeightedFinding {
  const { written, stroke } = group[0]!
  return {
    weight: 10 + Math.min(6, 1.5 * (group.length - 1)),
    finding: {
      kind: 'wrong-note',
      ...atPlaces(group),
      written: written.spelled,
      instead: struckName(heard, stroke!.pitch, written.barIndex),
    },
  }
}

function octaveFinding(group: readonly HeardNote[]): WeightedFinding {
  const { written, stroke } = group[0]!
  return {
    weight: 9 + Math.min(4, group.length - 1),
    finding: { kind: 'octave', ...atPlaces(group), written: written.spelled, tooHigh: stroke!.pitch > written.pitch },
  }
}

function missedFinding(group: readonly HeardNote[]): WeightedFinding {
  const main = group.filter(note => !note.written.grace)
  return {
    weight: (main.length > 0 ? 9 : 3) + Math.min(6, 1.5 * (group.length - 1)),
    finding: {
      kind: 'missed-note',
      ...atPlaces(group),
      written: group[0]!.written.spelled,
      ...(main.length === 0 ? { grace: true as const } : {}),
    },
  }
}

/** Extra keys by bar, except those a habit covers; and notes struck again under their ties. */
export function extraFindings(heard: Heard, told: ReadonlySet<number>): WeightedFinding[] {
  const { alignment, take, notes } = heard
  const inTime = notes.filter(note => !note.written.grace).sort((a, b) => a.dueMs - b.dueMs)
  const groups = new Map<string, { near: HeardNote[]; pitch: number }>()
  const restruck: { note: HeardNote; bar: number; beat: number }[] = []
  for (const { played, reason, note, tie } of alignment.extras) {
    if (reason === 'restruck') {
      const { bar, beat } = notes[note!]!.written.ties![tie!]!
      restruck.push({ note: notes[note!]!, bar, beat: Number(beat.toFixed(4)) })
    }
    if (reason || told.has(played)) continue
    const { pitch, onsetMs } = take.notes[played]!
    const near = inTime[noteBy.center(inTime, onsetMs)]
    if (!near) continue
    const key = `${near.written.barIndex}:${near.written.time}`
    const group = groups.get(key)
    if (group) group.near.push(near)
    else groups.set(key, { near: [near], pitch })
  }
  const found = [...groups.values()].map(({ near, pitch }): WeightedFinding => ({
    weight: 6 + Math.min(4, near.length - 1),
    finding: { kind: 'extra-note', ...atPlaces(near), struck: struckName(heard, pitch, near[0]!.written.barIndex) },
  }))
  if (restruck.length === 0) return found
  const places = restruck.map(({ note, bar, beat }) => ({ hand: note.written.hand, bar, beat }))
  return [
    ...found,
    {
      weight: 12 + Math.min(4, restruck.length - 1),
      finding: {
        kind: 're-struck-tie',
        ...places[0]!,
        count: places.length,
        places,
        written: restruck[0]!.note.written.spelled,
      },
    },
  ]
}

const noteBy = bisector((note: HeardNote) => note.dueMs)
