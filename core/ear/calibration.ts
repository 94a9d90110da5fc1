import { bisector, quantileSorted } from 'd3-array'
import { median } from './statistics'

/**
 * The result of tapping with a click: the median delay of the keys, ms (+ is late), the spread of the middle half, and
 * the number of taps counted.
 */
export interface Calibration {
  delayMs: number
  spreadMs: number
  taps: number
}

/** Why a delay cannot be measured: too few taps near a click, or taps too far apart to have a middle. */
export type NoCalibration = { why: 'few'; taps: number } | { why: 'scattered'; spreadMs: number }

/**
 * Own choice, except the spread: tapping with a click is repeatable to within 20 to 30 ms (common practice in tapping
 * studies).
 */
export const CALIBRATION = {
  bpm: 90,
  beats: 32,
  /** Taps to these first clicks only find the beat. */
  settling: 4,
  fewest: 12,
  mostSpreadMs: 70,
  /** Beyond this a delay is wireless, or the computer's own is very long, ms. */
  wirelessMs: 90,
} as const

const clickBy = bisector((click: number) => click)

/**
 * The median delay of a player's keys against the click they tap with. It includes everything between the click and the
 * key's message: the output's latency, hearing and habit, and the keyboard's own delay. `clicksMs` are when the clicks
 * were due, `tapsMs` when keys went down, on one clock.
 */
export function calibrate(clicksMs: readonly number[], tapsMs: readonly number[]): Calibration | NoCalibration {
  const used = clicksMs.slice(CALIBRATION.settling)
  const gap = (clicksMs.at(-1)! - clicksMs[0]!) / Math.max(1, clicksMs.length - 1)
  // Wireless sound may be late by more than half a beat, so each tap is assigned to its nearest click after the median
  // has been subtracted.
  const near = (offsetMs: number): number[] => {
    const own = new Map<number, number>()
    for (const tap of tapsMs) {
      const at = nearest(used, tap - offsetMs)
      if (at === undefined) continue
      const off = tap - used[at]!
      const before = own.get(at)
      if (
        Math.abs(off - offsetMs) < gap / 2 &&
        (before === undefined || Math.abs(off - offsetMs) < Math.abs(before - offsetMs))
      )
        own.set(at, off)
    }
    return [...own.values()]
  }
  const first = near(EXPECTED_MS)
  if (first.length < CALIBRATION.fewest) return { why: 'few', taps: first.length }
  const offs = near(median(first)).sort((a, b) => a - b)
  if (offs.length < CALIBRATION.fewest) return { why: 'few', taps: offs.length }
  const spreadMs = Math.round(quantileSorted(offs, 0.75)! - quantileSorted(offs, 0.25)!)
  if (spreadMs > CALIBRATION.mostSpreadMs) return { why: 'scattered', spreadMs }
  return { delayMs: Math.round(median(offs)), spreadMs, taps: offs.length }
}
/** Expected offset before anything is known: between a cable (slightly early) and wireless sound. */
const EXPECTED_MS = 60

function nearest(sorted: readonly number[], at: number): number | undefined {
  const after = clickBy.left(sorted, at)
  const [before, next] = [sorted[after - 1], sorted[after]]
  if (before === undefined) return next === undefined ? undefined : after
  return next === undefined || at - before <= next - at ? after - 1 : after
}

/** Whether a delay is of the kind that wireless sound adds. */
export const isWireless = (delayMs: number): boolean => delayMs >= CALIBRATION.wirelessMs
