import type { ExpectedNote } from '../music/passage'
import type { Strike } from './strikes'

/**
 * The difficulty of reaching each strike, from −1 (the easiest of the passage) to 1 (the hardest): many keys in little
 * time, and far apart (own choice: a ranking, not a measure).
 */
export function difficulties(expected: readonly ExpectedNote[], strikes: readonly Strike[]): number[] {
  const effort = strikes.map(({ atMs, notes }, index) => {
    const before = strikes[index - 1]
    if (!before) return 0
    const seconds = Math.max(0.05, (atMs - before.atMs) / 1000)
    const way = notes.reduce((sum, note) => {
      const { hand, pitch } = expected[note]!
      const from = before.notes
        .filter(one => expected[one]!.hand === hand)
        .map(one => Math.abs(expected[one]!.pitch - pitch))
      return sum + 2 + (from.length > 0 ? Math.min(...from) : 2)
    }, 0)
    return way / seconds
  })
  const sorted = [...effort].sort((a, b) => a - b)
  const [least, middle, most] = [sorted[0] ?? 0, sorted[sorted.length >> 1] ?? 0, sorted.at(-1) ?? 0]
  return effort.map(one =>
    one >= middle ? (most > middle ? (one - middle) / (most - middle) : 0) : (one - middle) / (middle - least),
  )
}
