import { forecast, minutesLeft, minutesPerDay } from '#core/coach/forecast'
import { suggestCuts } from '#core/coach/cuts'
import type { CoachedSong } from './coached-song'

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
        ? suggestCuts(plan, standing, left!, perDay, nowMs, targetMs!)
        : [],
  }
}
