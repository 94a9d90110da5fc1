import { bisectLeft, bisector, median } from 'd3-array'
import type { Arrangement, Note } from '../music/arrangement'
import { highestLine } from '../music/highest-line'
import { add, toDecimal } from '../music/quarters'

/** A note as it sounds, in decimal quarter notes. */
export interface Sounding {
  from: number
  to: number
  pitch: number
  note: Omit<Note, 'hand'>
}

/**
 * The lines that a listener follows: the right hand's highest notes (of all hands where it rests throughout), and the
 * voices that have words.
 */
export function songLines(arrangement: Arrangement): Sounding[][] {
  const sung = new Set(arrangement.lyrics.map(lyric => lyric.noteId))
  const voices = arrangement.others.filter(
    role => !role.percussion && !role.silent && role.notes.some(note => sung.has(note.id)),
  )
  const right = arrangement.notes.filter(note => note.hand === 'right' && !note.grace)
  return [right.length > 0 ? right : arrangement.notes, ...voices.map(role => role.notes)]
    .map(notes => highestLine(soundingOf(notes)))
    .filter(line => line.length > 0)
}

/** From one onset to the next. */
export interface Step {
  from: number
  length: number
}
export const stepsOf = (onsets: readonly number[]): Step[] =>
  onsets.slice(1).map((to, index) => ({ from: onsets[index]!, length: to - onsets[index]! }))

/**
 * How much a step's length says that something ends, from 0 to 1: 1 for four times the usual one, less where such steps
 * come more often than phrases could end.
 */
export function longness(steps: readonly Step[], barsInto: (quarter: number) => number): (length: number) => number {
  const lengths = steps.map(step => step.length).sort((a, b) => a - b)
  const usual = median(lengths) ?? 1
  const bars = new Set(steps.map(step => Math.floor(barsInto(step.from)))).size
  return length => {
    const often = (lengths.length - bisectLeft(lengths, length - 1e-6)) / Math.max(1, bars)
    return (
      share(Math.log2(Math.max(length, 1e-6) / usual) / 2) *
      share(1 - OFTEN * Math.log2(Math.max(1, often / PHRASE_ENDS)))
    )
  }
}
/** Kept between 0 and 1. */
export const share = (value: number): number => Math.max(0, Math.min(1, value))

/**
 * Phrases end in at most so many bars of one; and what twice as often comes loses so much of its weight. Own choice.
 */
const PHRASE_ENDS = 0.5
const OFTEN = 0.7

export const soundingOf = (notes: readonly Omit<Note, 'hand'>[]): Sounding[] =>
  notes
    .filter(note => !note.grace)
    .map(note => ({
      from: toDecimal(note.onset),
      to: toDecimal(add(note.onset, note.duration)),
      pitch: note.pitch,
      note,
    }))

/**
 * What strikes and sounds in both hands: before a moment, how long ago anything was struck, whether something sounds on
 * over it, and whether the bass rose a fourth to get there.
 */
export function textureOf(notes: readonly Sounding[]) {
  const onsets = [...new Set(notes.map(note => note.from))].sort((a, b) => a - b)
  // The lowest note that sounds from each onset on, and how far anything struck so far lasts.
  let sounding: Sounding[] = []
  let next = 0
  let reach = 0
  const at = onsets.map(onset => {
    while (next < notes.length && notes[next]!.from <= onset + 1e-9) {
      reach = Math.max(reach, notes[next]!.to)
      sounding.push(notes[next++]!)
    }
    sounding = sounding.filter(note => note.to > onset + 1e-9)
    return { onset, reach, bass: sounding.reduce((lowest, note) => Math.min(lowest, note.pitch), 127) }
  })
  return {
    onsets,
    before(from: number) {
      const index = onsetBy.left(onsets, from - 1e-9) - 1
      if (index < 0) return undefined
      const last = at[index]!
      const rise = index > 0 ? last.bass - at[index - 1]!.bass : 0
      return { step: from - last.onset, isHeldOver: last.reach > from + 1e-6, bassRises: rise === 5 || rise === -7 }
    },
  }
}
const onsetBy = bisector((onset: number) => onset)
