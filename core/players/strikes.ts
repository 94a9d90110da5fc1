import type { ExpectedNote } from '../music/passage'

/** Written notes struck together: a chord, or both hands on one beat, with the grace notes that lead to them. */
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

/** The strikes of a passage, made from the score alone so that the truth about a take is independent of the judge. */
export function strikesOf(expected: readonly ExpectedNote[]): Strike[] {
  const strikes: Strike[] = []
  const byEvent = expected
    .map((note, index) => ({ note, index }))
    .sort((a, b) => a.note.eventMs - b.note.eventMs || a.index - b.index)
  for (const { note, index } of byEvent) {
    const last = strikes.at(-1)
    if (last && Math.abs(last.atMs - note.eventMs) < 1) {
      last.notes.push(index)
      last.pitches.push(note.pitch)
      continue
    }
    strikes.push({
      atMs: note.eventMs,
      notes: [index],
      pitches: [note.pitch],
      bar: note.bar,
      barIndex: note.barIndex,
      beat: note.beat,
    })
  }
  return strikes
}
