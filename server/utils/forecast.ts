import { forecast, minutesLeft, minutesPerDay } from '#core/coach/forecast'
import { whatToCut } from '#core/coach/cuts'
import type { CoachedSong } from '../use-cases/coached-song'

/**
 * When a song will be ready, from the player's own days; with a target date whether that fits, and what to cut if not.
 */
export function forecastOf(
  { plan, record: { standing, days }, targetDate }: CoachedSong,
  dayOf: (ms: number) => string,
  nowMs: number,
) {
  const left = minutesLeft(days)
  const perDay = minutesPerDay(days, nowMs, dayOf)
  const targetMs = targetDate ? Date.parse(`${targetDate}T12:00:00Z`) : undefined
  const found = left && forecast(left, perDay, nowMs, targetMs)
  return {
    days,
    minutesPerDay: perDay,
    minutesLeft: left ?? null,
    forecast: found ?? null,
    cuts:
      found?.fits === 'no' || found?.fits === 'perhaps'
        ? whatToCut(plan, standing, left!, perDay, nowMs, targetMs!)
        : [],
  }
}
