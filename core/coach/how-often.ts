import { greatest } from 'd3-array'

/**
 * How often something is played that the player has chosen: until it is stopped, so many times, or until so many in a
 * row were clean.
 */
export type HowOften = { until: 'stopped' } | { until: 'times' | 'clean-in-a-row'; count: number }

export const UNTIL_STOPPED: HowOften = { until: 'stopped' }

/** Nobody asks for more than this. */
export const MOST_TIMES = 100

/**
 * What came of so many times: how many, how many of them clean, the longest run of clean ones and the run that it ended
 * with.
 */
export interface Played {
  times: number
  clean: number
  longest: number
  atEnd: number
  /** The bar, by its printed number, that failed in the most passes, and in how many. */
  hardest?: { bar: number; failures: number }
}

/** Sums up passes, oldest first; `failedBars`: the printed numbers of the bars where something failed. */
export function playedSoFar(passes: readonly { isClean: boolean; failedBars: readonly number[] }[]): Played {
  let [longest, atEnd] = [0, 0]
  const failures = new Map<number, number>()
  for (const { isClean, failedBars } of passes) {
    atEnd = isClean ? atEnd + 1 : 0
    longest = Math.max(longest, atEnd)
    for (const bar of new Set(isClean ? [] : failedBars)) failures.set(bar, (failures.get(bar) ?? 0) + 1)
  }
  const hardest = greatest(failures, ([, count]) => count)
  return {
    times: passes.length,
    clean: passes.filter(pass => pass.isClean).length,
    longest,
    atEnd,
    ...(hardest && hardest[1] > 1 ? { hardest: { bar: hardest[0], failures: hardest[1] } } : {}),
  }
}

/** Whether it was played as often as was asked for. */
export const isOften = (howOften: HowOften, { times, atEnd }: Played): boolean =>
  howOften.until === 'times' ? times >= howOften.count : howOften.until === 'clean-in-a-row' && atEnd >= howOften.count
