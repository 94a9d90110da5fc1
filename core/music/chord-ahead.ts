import type { Arrangement } from './arrangement'
import { dueMarks, type Passage } from './passage'

/** Rounding tolerance of the clock, ms. */
const NEARLY_MS = 1

/**
 * The next chord symbol after a time in a passage (ms from its beginning), for calling it before the change; the
 * current one where no other follows. `bpm`: quarter notes a minute. Before the passage begins its first chord is the
 * next one. Undefined without symbols.
 */
export function chordAhead(
  arrangement: Arrangement,
  passage: Passage,
  bpm: number,
  atMs: number,
): { symbol: string; isNow: boolean } | undefined {
  const due = dueMarks(arrangement, passage, arrangement.chords, bpm)
  const next = due.find(chord => chord.atMs > atMs + NEARLY_MS)
  if (next) return { symbol: next.symbol, isNow: false }
  const now = due.findLast(chord => chord.atMs <= atMs + NEARLY_MS)
  return now && { symbol: now.symbol, isNow: true }
}
