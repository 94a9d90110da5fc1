/** Taps further apart than this begin a new tempo; ms. */
const FORGOTTEN_MS = 2500
/** The number of newest taps used. */
const NEWEST = 8

/**
 * The beats a minute that were tapped, from the moments of the taps (ms), oldest first; undefined for fewer than two
 * that belong together.
 */
export function tappedBeats(taps: readonly number[]): number | undefined {
  const pause = taps.findLastIndex((at, index) => index > 0 && at - taps[index - 1]! > FORGOTTEN_MS)
  const together = taps.slice(Math.max(0, pause)).slice(-NEWEST)
  if (together.length < 2) return undefined
  return (60_000 * (together.length - 1)) / (together.at(-1)! - together[0]!)
}
