import { minutesPlayed, type PastPass } from './pass'

/**
 * When a break is due (usual cautions of the trade, not medical advice; the numbers lie within what teachers and
 * players' health guides advise).
 */
export const CAUTIONS = {
  /** Minutes of real playing without a pause of at least `pauseMinutes`. */
  playedMinutes: 25,
  pauseMinutes: 5,
  /** Repeats of one small passage in a row, and minutes. */
  sameInARow: 30,
  sameMinutes: 10,
  /** Minutes played in a day. */
  dayMinutes: 90,
} as const

/** `break`: after long playing; `same-place`: one place too long; `day`: enough for a day. */
export type Caution = { kind: 'break' | 'day'; minutes: number } | { kind: 'same-place'; times: number }

/**
 * The cautions due now, after today's passes (oldest first), most pressing first. `nowMs` tells how long the player has
 * paused already.
 */
export function cautionsFor(today: readonly PastPass[], nowMs: number): Caution[] {
  const last = today.at(-1)
  if (!last || nowMs - (last.atMs + last.lengthMs) >= CAUTIONS.pauseMinutes * 60_000) return []
  const paused = today.findLastIndex(
    (pass, index) =>
      index > 0 && pass.atMs - (today[index - 1]!.atMs + today[index - 1]!.lengthMs) >= CAUTIONS.pauseMinutes * 60_000,
  )
  const stretch = today.slice(Math.max(0, paused))
  const otherPlace = stretch.findLastIndex(pass => pass.key !== last.key)
  const same = stretch.slice(otherPlace + 1)
  const cautions: Caution[] = []
  if (minutesPlayed(today) >= CAUTIONS.dayMinutes)
    cautions.push({ kind: 'day', minutes: Math.round(minutesPlayed(today)) })
  if (minutesPlayed(stretch) >= CAUTIONS.playedMinutes)
    cautions.push({ kind: 'break', minutes: Math.round(minutesPlayed(stretch)) })
  if (same.length >= CAUTIONS.sameInARow || minutesPlayed(same) >= CAUTIONS.sameMinutes)
    cautions.push({ kind: 'same-place', times: same.length })
  return cautions
}
