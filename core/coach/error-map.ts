import { greatest, sum } from 'd3-array'
import { barAt, type Arrangement } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { add, compare, type Quarters } from '../music/quarters'

/** Bars by days: the share of the passes over a bar on a day that failed in it; null where there were none. */
export interface ErrorMap {
  days: string[]
  bars: number[]
  shares: (number | null)[][]
  passes: number[][]
}

/** Passes oldest first. Contains only bars that were ever practised, by their printed numbers. */
export function errorMap(
  arrangement: Arrangement,
  passes: readonly { atMs: number; stretch: ScoreSpan; failed: readonly Quarters[] }[],
  dayOf: (ms: number) => string,
): ErrorMap {
  const days = [...new Set(passes.map(pass => dayOf(pass.atMs)))]
  const played = new Map<number, Map<string, { passes: number; failed: number }>>()
  for (const { atMs, stretch, failed } of passes) {
    const day = dayOf(atMs)
    const failing = new Set(failed.map(at => barAt(arrangement, at).number))
    const bars = new Set(
      arrangement.bars
        .filter(bar => compare(bar.start, stretch.to) < 0 && compare(stretch.from, add(bar.start, bar.length)) < 0)
        .map(bar => bar.number),
    )
    for (const bar of bars) {
      const byDay = played.get(bar) ?? new Map<string, { passes: number; failed: number }>()
      const one = byDay.get(day) ?? { passes: 0, failed: 0 }
      byDay.set(day, { passes: one.passes + 1, failed: one.failed + (failing.has(bar) ? 1 : 0) })
      played.set(bar, byDay)
    }
  }
  const bars = [...played.keys()].sort((a, b) => a - b)
  const cell = (bar: number, day: string) => played.get(bar)!.get(day)
  return {
    days,
    bars,
    shares: bars.map(bar =>
      days.map(day => {
        const one = cell(bar, day)
        return one ? one.failed / one.passes : null
      }),
    ),
    passes: bars.map(bar => days.map(day => cell(bar, day)?.passes ?? 0)),
  }
}

/** Consecutive days of a map gathered into at most this many spans, each pass counting alike. */
export function inSpans(
  { days, bars, shares, passes }: ErrorMap,
  mostSpans: number,
): { spans: { from: string; to: string }[]; bars: number[]; shares: (number | null)[][] } {
  const length = Math.max(1, Math.ceil(days.length / mostSpans))
  const starts = Array.from({ length: Math.ceil(days.length / length) }, (_, span) => span * length)
  return {
    spans: starts.map(start => ({ from: days[start]!, to: days[Math.min(start + length, days.length) - 1]! })),
    bars,
    shares: bars.map((_, row) =>
      starts.map(start => {
        const [played, failed] = [passes[row]!.slice(start, start + length), shares[row]!.slice(start, start + length)]
        const all = sum(played)
        return all === 0 ? null : sum(played.map((count, day) => count * (failed[day] ?? 0))) / all
      }),
    ),
  }
}

/** The bar that failed most often over the newest days, each pass counting alike; undefined where nothing failed. */
export function hardestBar(
  { bars, days, shares, passes }: ErrorMap,
  newestDays: number,
): { bar: number; share: number } | undefined {
  const from = Math.max(0, days.length - newestDays)
  const all = bars.map((bar, row) => {
    const played = sum(passes[row]!.slice(from))
    const failed = sum(shares[row]!.slice(from), (share, day) => (share ?? 0) * passes[row]![from + day]!)
    return { bar, share: played === 0 ? 0 : failed / played }
  })
  const most = greatest(all, one => one.share)
  return most && most.share > 0 ? most : undefined
}
