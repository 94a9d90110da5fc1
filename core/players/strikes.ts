import type { ExpectedNote } from '../music/passage'

/**
 * Written notes that a player strikes together: a chord, or both hands on one beat, with the grace notes that lead to
 * them.
 */
export interface Strike {
  /** When it is written, ms of score time. */
  atMs: number
  /** Indices into the expected notes. */
  notes: number[]
  pitches: number[]
  bar: number
  barIndex: number
  beat: number
}

/**
 * The passage as a player reads it: one strike after the other. Made from the score alone, so that the truth about a
 * take owes nothing to the ear.
 */
export function strikesOf(expected: readonly ExpectedNote[]): Strike[] {
  const strikes: Strike[] = []
  const byMoment = expected
    .map((note, index) => ({ note, index }))
    .sort((a, b) => a.note.momentMs - b.note.momentMs || a.index - b.index)
  for (const { note, index } of byMoment) {
    const last = strikes.at(-1)
    if (last && Math.abs(last.atMs - note.momentMs) < 1) {
      last.notes.push(index)
      last.pitches.push(note.pitch)
      continue
    }
    strikes.push({
      atMs: note.momentMs,
      notes: [index],
      pitches: [note.pitch],
      bar: note.bar,
      barIndex: note.barIndex,
      beat: note.beat,
    })
  }
  return strikes
}
