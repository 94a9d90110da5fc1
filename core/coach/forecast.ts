import { linearRegression } from 'simple-statistics'

/** Progress of a song at the end of a day of practice: minutes played so far and the share of the way done. */
export interface ProgressDay {
  day: string
  minutes: number
  progress: number
}

export const FORECAST = {
  /** A song is ready at this share: the last hundredths are endless polish. */
  ready: 0.97,
  /** Days of practice, and minutes in all, needed for a forecast. */
  fewestDays: 4,
  fewestMinutes: 40,
  /** The forecast gives the middle eight tenths of the likely outcomes. */
  low: 0.1,
  high: 0.9,
} as const

/** Minutes of practice still needed: the likely value, and bounds that hold in eight cases of ten. */
export interface MinutesLeft {
  likely: number
  least: number
  most: number
}

/**
 * What is left, from the player's own curve: the remainder falls by a constant share with each minute (practice has
 * diminishing returns), at the rate of the days so far; the bounds come from leaving days out in turn and from how
 * uneven the days were (jackknife, Efron & Stein 1981, unchecked). Undefined with too few days or minutes, or no
 * progress.
 */
export function minutesLeft(days: readonly ProgressDay[]): MinutesLeft | undefined {
  if (days.length < FORECAST.fewestDays) return undefined
  const now = days.at(-1)!
  if (now.progress >= FORECAST.ready) return { likely: 0, least: 0, most: 0 }
  if (now.minutes < FORECAST.fewestMinutes) return undefined
  const left = (progress: number) => Math.log(Math.max(0.005, 1 - progress))
  const points = [
    [0, 0] as [number, number],
    ...days.map(({ minutes, progress }): [number, number] => [minutes, left(progress)]),
  ]
  const rateOf = (some: [number, number][]) => -linearRegression(some).m
  const rate = rateOf(points)
  if (!(rate > 0)) return undefined
  const wanted = left(now.progress) - left(FORECAST.ready)
  const without = points.slice(1).map((_, index) => rateOf(points.filter((__, other) => other !== index + 1)))
  const spread = Math.sqrt(
    ((without.length - 1) / without.length) * without.reduce((sum, one) => sum + (one - rate) ** 2, 0),
  )
  // Where the newest days differ in pace from all of them, either may be right.
  const newest = points.length > 4 ? rateOf(points.slice(-4)) : rate
  const rates = [rate - 1.28 * spread, rate + 1.28 * spread, Math.max(newest, rate / 4)].sort((a, b) => a - b)
  return {
    likely: wanted / rate,
    least: wanted / Math.max(rate, rates.at(-1)!),
    most: wanted / Math.max(rate / 5, Math.min(rate, rates[0]!)),
  }
}

/**
 * Minutes a day over the last two weeks, including days without practice; from the first day of practice on, if that
 * was later.
 */
export function minutesPerDay(days: readonly ProgressDay[], nowMs: number, dayOf: (ms: number) => string): number {
  const lately = Array.from({ length: PACE_DAYS }, (_, ago) => dayOf(nowMs - ago * DAY_MS))
  const first = days.findIndex(({ day }) => lately.includes(day))
  if (first < 0) return 0
  return (days.at(-1)!.minutes - (days[first - 1]?.minutes ?? 0)) / (lately.indexOf(days[first]!.day) + 1)
}

const PACE_DAYS = 14
const DAY_MS = 86_400_000

/** When the song will be ready at a number of minutes a day, and whether that is in time. */
export interface Forecast {
  likelyMs: number
  earliestMs: number
  latestMs: number
  /** Whether the target date is met: in nearly all likely cases, in some, in hardly any. */
  fits?: 'yes' | 'perhaps' | 'no'
  /** Minutes a day needed to be ready in the likely case. */
  minutesPerDayNeeded?: number
}

export function forecast(left: MinutesLeft, perDay: number, nowMs: number, targetMs?: number): Forecast | undefined {
  if (perDay <= 0) return undefined
  const at = (minutes: number) => nowMs + Math.ceil(minutes / perDay) * DAY_MS
  const found: Forecast = { likelyMs: at(left.likely), earliestMs: at(left.least), latestMs: at(left.most) }
  if (targetMs === undefined) return found
  const days = Math.max(1, Math.floor((targetMs - nowMs) / DAY_MS))
  return {
    ...found,
    fits: found.latestMs <= targetMs ? 'yes' : found.earliestMs <= targetMs ? 'perhaps' : 'no',
    minutesPerDayNeeded: left.likely / days,
  }
}
