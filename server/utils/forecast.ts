import { forecast, minutesLeft, minutesPerDay, progressByDay } from '#core/coach/forecast'
import { whatToCut } from '#core/coach/cuts'
import type { CoachedSong } from '../database/queries/coach'

/** When a song will be ready, from the player's own days; with a target date whether that fits, and what to cut if not. */
export function forecastOf({ plan, passes, targetDate, standing }: CoachedSong, dayOf: (ms: number) => string, nowMs: number) {
  const days = progressByDay(plan, passes, dayOf)
  const left = minutesLeft(days)
  const perDay = minutesPerDay(passes, nowMs)
  const targetMs = targetDate ? Date.parse(`${targetDate}T12:00:00Z`) : undefined
  const found = left && forecast(left, perDay, nowMs, targetMs)
  return {
    days, minutesPerDay: perDay, minutesLeft: left ?? null, forecast: found ?? null,
    cuts: found?.fits === 'no' || found?.fits === 'perhaps' ? whatToCut(plan, standing, left!, perDay, nowMs, targetMs!) : [],
  }
}
