import { bisector } from 'd3-array'
import type { Bar } from '../music/arrangement'
import { beatLength, isCompound, pulses } from '../music/meter'
import { add, compare, earlier, equal, multiply, quarters, subtract, type Quarters } from '../music/quarters'
import type { Harmony } from '../music/song-harmony'
import type { ChordTone, Drum, Pattern, PatternNote } from './pattern'

/**
 * A note of a pattern in a bar: from where to where it is written, and whether it lies between two beats, where swing
 * moves it.
 */
export interface Placed<Tone extends Drum | ChordTone = Drum | ChordTone> {
  at: Quarters
  end: Quarters
  isBetween: boolean
  note: PatternNote<Tone>
}

/**
 * The felt beats of a bar, from its first to its end, as moments of the score; a pickup's missing beats lie before the
 * bar.
 */
export function beatsOf(bar: Bar): Quarters[] {
  const from = subtract(bar.start, bar.offset)
  return [...pulses(bar.meter), bar.meter.beats].map(pulse =>
    add(from, multiply(quarters(pulse), beatLength(bar.meter))),
  )
}

/** The notes of a pattern in a bar, laid on its felt beats from number `first` on. */
export function place<Tone extends Drum | ChordTone>(
  { division, notes }: Pattern<Tone>,
  bar: Bar,
  first = 0,
): Placed<Tone>[] {
  const beats = beatsOf(bar)
  const at = (step: number) => {
    const beat = Math.min(first + Math.floor(step / division), beats.length - 2)
    const within = quarters(step - (beat - first) * division, division)
    return add(beats[beat]!, multiply(within, subtract(beats[beat + 1]!, beats[beat]!)))
  }
  // Only the middle of a beat, and the last of three, are moved by swing; beats of three are not swung.
  const isMoved = (step: number) => !isCompound(bar.meter) && (division === 3 ? step === 2 : step * 2 === division)
  return notes.map(note => ({
    note,
    at: at(note.step),
    end: at(note.step + note.length),
    isBetween: isMoved(note.step % division),
  }))
}

/**
 * The notes of a bar with the harmony's own changes: where a chord begins and nothing is struck, it is struck as
 * `tone`; nothing sounds on over a change.
 */
export function withChanges<Tone extends Drum | ChordTone>(
  notes: readonly Placed<Tone>[],
  harmonies: readonly Pick<Harmony, 'onset'>[],
  from: Quarters,
  to: Quarters,
  tone: Tone,
): Placed<Tone>[] {
  const changes = harmonies
    .slice(harmonyBy.left(harmonies, from))
    .filter(({ onset }) => compare(onset, to) < 0)
    .map(({ onset }) => onset)
  const struck = changes.filter(
    change =>
      !notes.some(({ at }) => equal(at, change)) &&
      notes.some(({ at, end }) => compare(at, change) < 0 && compare(end, change) > 0),
  )
  const added = struck.map((at): Placed<Tone> => {
    const held = notes.findLast(note => compare(note.at, at) < 0)!
    return { at, end: held.end, isBetween: held.isBetween, note: { step: 0, length: 1, tone } }
  })
  return [...notes, ...added]
    .sort((a, b) => compare(a.at, b.at))
    .map(note => ({ ...note, end: changes.filter(change => compare(change, note.at) > 0).reduce(earlier, note.end) }))
}

const harmonyBy = bisector((harmony: Pick<Harmony, 'onset'>, at: Quarters) => compare(harmony.onset, at))

/** Which harmony is in force at a moment, by its number; -1 before the first. */
export const harmonyIndexAt = (harmonies: readonly Pick<Harmony, 'onset'>[], at: Quarters): number =>
  harmonyBy.right(harmonies, at) - 1
