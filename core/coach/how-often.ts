import { greatest } from 'd3-array'

/**
 * How often the player wants to play something: until stopped, a number of times, or until a number of passes in a row
 * were clean.
 */
export type RepeatGoal = { until: 'stopped' } | { until: 'times' | 'clean-in-a-row'; count: number }

export const UNTIL_STOPPED: RepeatGoal = { until: 'stopped' }

/** The largest number of repeats accepted. */
export const MAX_REPEATS = 100

/** What the repeats came to: how many, how many clean, the longest clean run and the clean run at the end. */
export interface RepeatTally {
  times: number
  clean: number
  longest: number
  atEnd: number
  /** The bar, by its printed number, that failed in most passes, and in how many. */
  hardest?: { bar: number; failures: number }
}

/** Tallies passes, oldest first; `failedBars`: printed numbers of the bars where something failed. */
export function tallyRepeats(passes: readonly { isClean: boolean; failedBars: readonly number[] }[]): RepeatTally {
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

/** Whether the repeats asked for have been played. */
export const isRepeatGoalMet = (howOften: RepeatGoal, { times, atEnd }: RepeatTally): boolean =>
  howOften.until === 'times' ? times >= howOften.count : howOften.until === 'clean-in-a-row' && atEnd >= howOften.count
