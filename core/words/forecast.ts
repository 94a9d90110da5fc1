import { FORECAST, type Forecast } from '../coach/forecast'
import { plural } from './amounts'

const YEAR_MS = 365 * 86_400_000

/**
 * When a song will be ready, as one sentence. `progress`: the share of the way; `date` writes a day, from ms since
 * 1970.
 */
export function forecastText(
  { progress, forecast, minutesPerDay }: { progress: number; forecast: Forecast | null; minutesPerDay: number },
  nowMs: number,
  date: (ms: number) => string,
): string {
  if (!forecast)
    return progress >= FORECAST.ready
      ? 'Ready.'
      : `A forecast appears after ${FORECAST.fewestDays} days and about ${FORECAST.fewestMinutes} minutes of practice.`
  const { likelyMs, earliestMs, latestMs } = forecast
  if (likelyMs === latestMs && likelyMs <= nowMs) return 'Ready.'
  const pace = `At ${plural(Math.max(1, Math.round(minutesPerDay)), 'minute')} a day`
  if (earliestMs > nowMs + YEAR_MS) return `${pace} this will take more than a year.`
  if (likelyMs > nowMs + YEAR_MS) return 'It is too early to tell when this will be ready.'
  return `${pace}, ready around ${date(likelyMs)} (most likely between ${date(earliestMs)} and ${date(latestMs)}).`
}

const FITS: Record<NonNullable<Forecast['fits']>, string> = {
  yes: 'On track for',
  perhaps: 'It will be tight for',
  no: 'Not on track for',
}

/** Whether that is in time: "On track for 7 January." */
export const fitsText = (fits: NonNullable<Forecast['fits']>, targetDay: string): string =>
  `${FITS[fits]} ${targetDay}.`
