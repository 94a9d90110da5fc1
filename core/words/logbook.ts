import type { Trend } from '../coach/trend'
import { plural } from './amounts'

/** Minutes as a person would say them: "45 min", "3 h 20 min". */
export const minutesText = (minutes: number): string =>
  minutes < 1
    ? 'under a minute'
    : minutes < 90
      ? `${Math.round(minutes)} min`
      : `${Math.floor(minutes / 60)} h ${Math.round(minutes % 60)} min`

const percent = (share: number): string => `${Math.round(100 * share)} %`

/** Whether it is getting better and what it took: one sentence each. Empty where there is nothing to compare. */
export function trendTexts({ spanDays, now, before }: Trend): string[] {
  if (now.passes === 0) return []
  const weeks = spanDays === 14 ? 'two weeks' : plural(spanDays, 'day')
  const took = `In the last ${weeks}: ${minutesText(now.minutes)} of playing on ${plural(now.days, 'day')}${before.passes > 0 ? `; in the ${weeks} before, ${minutesText(before.minutes)} on ${plural(before.days, 'day')}` : ''}.`
  const clean = `${percent(now.cleanShare!)} of ${plural(now.passes, 'pass', 'passes')} were clean${before.cleanShare === null ? '' : `, ${percent(before.cleanShare)} before`}.`
  const steady =
    now.unsteadinessMs === null
      ? []
      : [
          `Notes lie ${Math.round(now.unsteadinessMs)} ms to either side of the beat${before.unsteadinessMs === null ? '' : `, ${Math.round(before.unsteadinessMs)} ms before`}.`,
        ]
  return [took, clean, ...steady]
}
