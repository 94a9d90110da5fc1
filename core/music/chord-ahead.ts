import type { Arrangement } from './arrangement'
import type { Stretch } from './passage'
import { compare, type Quarters } from './quarters'

/**
 * The next chord symbol behind a moment within a stretch, for calling it before the change; the one in force where none comes any more.
 * `before`: the moment itself has not begun, so its own chord is the next one. Undefined where the stretch has no symbols.
 */
export function chordAhead({ chords }: Arrangement, at: Quarters, { from, to }: Stretch, before = false): { symbol: string, isNow: boolean } | undefined {
  const within = chords.filter(chord => compare(chord.onset, from) >= 0 && compare(chord.onset, to) < 0)
  const next = within.find(chord => before ? compare(chord.onset, at) >= 0 : compare(chord.onset, at) > 0)
  if (next) return { symbol: next.symbol, isNow: false }
  const now = chords.findLast(chord => compare(chord.onset, at) <= 0)
  return now && { symbol: now.symbol, isNow: true }
}
