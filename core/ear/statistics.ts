import { median as medianOfAny } from 'simple-statistics'

export type Point = readonly [x: number, y: number]

/**
 * Largest number of pairs compared for a slope; beyond it distances are thinned evenly, the shortest (least
 * informative) first, which keeps the work linear.
 */
const MAX_PAIRS = 1000

/**
 * The median slope over pairs of points (Theil 1950, Sen 1968): up to 29 % of the points may be far off. NaN for fewer
 * than two.
 */
export function slopeOf(points: readonly Point[], mostPairs = MAX_PAIRS): number {
  const slopes: number[] = []
  const stride = Math.max(1, Math.floor((points.length * points.length) / 2 / mostPairs))
  for (let gap = Math.ceil(stride / 2); gap < points.length; gap += stride) {
    for (let i = 0; i + gap < points.length; i++) {
      const run = points[i + gap]![0] - points[i]![0]
      if (run !== 0) slopes.push((points[i + gap]![1] - points[i]![1]) / run)
    }
  }
  return slopes.length === 0 ? Number.NaN : medianOfAny(slopes)
}

/** The line with the Theil–Sen slope and the median intercept. */
export function lineThrough(points: readonly Point[], mostPairs = MAX_PAIRS): { slope: number; intercept: number } {
  const slope = slopeOf(points, mostPairs)
  const safeSlope = Number.isFinite(slope) ? slope : 0
  return { slope: safeSlope, intercept: median(points.map(([x, y]) => y - safeSlope * x)) }
}

/** The median; 0 for no values. */
export function median(values: readonly number[]): number {
  // Most calls are about the few notes of a chord.
  if (values.length < 3) return values.length === 0 ? 0 : (values[0]! + values.at(-1)!) / 2
  return medianOfAny([...values])
}

/**
 * Values within 3.5 scaled median absolute deviations of the median (Iglewicz & Hoaglin 1993, the modified z-score).
 */
function withoutOutliers(values: readonly number[]): readonly number[] {
  const centre = median(values)
  const scale = 1.4826 * median(values.map(value => Math.abs(value - centre)))
  return scale === 0 ? values : values.filter(value => Math.abs(value - centre) <= 3.5 * scale)
}

/**
 * The mean without outliers; 0 for no values. As precise as the mean without outliers, as safe as the median with them.
 */
export function robustMean(values: readonly number[]): number {
  const kept = withoutOutliers(values)
  return kept.length === 0 ? 0 : kept.reduce((sum, value) => sum + value, 0) / kept.length
}

/** The standard deviation without outliers; 0 for fewer than two values. */
export function robustSpread(values: readonly number[]): number {
  const kept = withoutOutliers(values)
  if (kept.length < 2) return 0
  const mean = kept.reduce((sum, value) => sum + value, 0) / kept.length
  return Math.sqrt(kept.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (kept.length - 1))
}

/** JSON keeps tenths of a millisecond, far below what can be heard. */
export function roundTo(value: number, digits: number): number {
  const scale = 10 ** digits
  return Math.round(value * scale) / scale + 0
}
