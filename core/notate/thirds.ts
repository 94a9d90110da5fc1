import { bisectLeft } from 'd3-array'

/**
 * Own choice: the tolerance for thirds of a beat, in beats, and how much better thirds must fit than the places found
 * (as a mean square).
 */
const NEAR_THIRDS = 0.09
const BETTER = 0.35
/** The share of beats with inner notes that must have thirds, or none has: unsteady playing strays into thirds too. */
const SHARE = 0.08

/**
 * Places in quarter notes, with triplets where they fit better: beats whose inner notes lie on thirds rather than on
 * halves and quarters. `timesMs` of moments, `places` in pulses, `pulses` to a quarter note.
 */
export function withTriplets(timesMs: readonly number[], places: readonly number[], pulses: number): number[] {
  const quarters = places.map(place => place / pulses)
  if (pulses % 3 === 0) return quarters
  const found: { index: number; at: number }[] = []
  let beats = 0
  let inners = 0
  for (let from = 0; from < places.length;) {
    const beat = Math.floor(quarters[from]!)
    let to = from
    while (to < places.length && Math.floor(places[to]! / pulses) === beat) to++
    const inner = Array.from({ length: to - from }, (_, index) => from + index).filter(
      index => places[index]! !== beat * pulses,
    )
    const [start, end] = [timeAt(beat * pulses), timeAt((beat + 1) * pulses)]
    if (inner.length > 0) inners++
    if (inner.length > 0 && inner.length <= 2 && start !== undefined && end !== undefined) {
      const shares = inner.map(index => (timesMs[index]! - start) / (end - start))
      const thirds = shares.map(share => Math.min(2, Math.max(1, Math.round(share * 3))))
      const misfit = (expected: readonly number[]) =>
        shares.reduce((sum, share, index) => sum + (share - expected[index]!) ** 2, 0)
      const isThirds =
        new Set(thirds).size === thirds.length &&
        shares.every((share, index) => Math.abs(share - thirds[index]! / 3) < NEAR_THIRDS)
      if (
        isThirds &&
        misfit(thirds.map(third => third / 3)) < BETTER * misfit(inner.map(index => quarters[index]! - beat))
      ) {
        beats++
        found.push(...inner.map((index, place) => ({ index, at: beat + thirds[place]! / 3 })))
      }
    }
    from = to
  }
  if (beats >= SHARE * inners) for (const { index, at } of found) quarters[index] = at
  return quarters

  /** When a place comes: struck there, or between the moments around it. */
  function timeAt(place: number): number | undefined {
    const low = bisectLeft(places, place)
    if (places[low] === place) return timesMs[low]
    const [before, after] = [low - 1, low]
    if (before < 0 || after >= places.length) return undefined
    return (
      timesMs[before]! +
      ((timesMs[after]! - timesMs[before]!) * (place - places[before]!)) / (places[after]! - places[before]!)
    )
  }
}
