import { sum } from 'd3-array'

/**
 * A day of practice: minutes at the keys, passes, clean ones, and the average unsteadiness of those with the click, ms.
 */
export interface TrendDay {
  day: string
  minutes: number
  passes: number
  clean: number
  unsteadinessMs: number | null
}

/** Some days of practice together. */
export interface TrendSpan {
  days: number
  minutes: number
  passes: number
  cleanShare: number | null
  unsteadinessMs: number | null
}

/** The newest days and the same number before them. */
export interface Trend {
  spanDays: number
  now: TrendSpan
  before: TrendSpan
}

/** Two weeks: long enough for several evenings, short enough to show the present (own choice). */
export const TREND_DAYS = 14
const DAY_MS = 86_400_000

/** The newest days beside the days before them. `today`: the player's day. */
export function trendOf(days: readonly TrendDay[], today: string, spanDays = TREND_DAYS): Trend {
  const noon = (day: string) => Date.parse(`${day}T12:00:00Z`)
  const ago = (day: string) => Math.round((noon(today) - noon(day)) / DAY_MS)
  const spanOf = (some: readonly TrendDay[]): TrendSpan => {
    const passes = sum(some, day => day.passes)
    const steady = some.filter(day => day.unsteadinessMs !== null)
    const weight = sum(steady, day => day.passes)
    return {
      days: some.length,
      minutes: sum(some, day => day.minutes),
      passes,
      cleanShare: passes > 0 ? sum(some, day => day.clean) / passes : null,
      unsteadinessMs: weight > 0 ? sum(steady, day => day.passes * day.unsteadinessMs!) / weight : null,
    }
  }
  return {
    spanDays,
    now: spanOf(days.filter(({ day }) => ago(day) < spanDays)),
    before: spanOf(days.filter(({ day }) => ago(day) >= spanDays && ago(day) < 2 * spanDays)),
  }
}
