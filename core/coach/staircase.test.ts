/** Levitt 1971, Transformed up-down methods in psychoacoustics, J. Acoust. Soc. Am. 49: where each rule settles. */
import { describe, expect, it } from 'vitest'
import { seededChance } from '../players/randomness'
import { settlesAt, startStaircase, stepStaircase, type StaircaseState } from './staircase'

const PUBLISHED = [
  [1, 0.5],
  [2, 0.707],
  [3, 0.794],
  [4, 0.841],
] as const

describe('a staircase', () => {
  it.each(PUBLISHED)('of %i successes up, one failure down settles at %f', (successes, share) => {
    expect(settlesAt(successes)).toBeCloseTo(share, 3)
    // A learner whose success falls with the level along a logistic curve: the level at which it is that share is
    // known.
    const success = (level: number) => 1 / (1 + Math.exp((level - 100) / 8))
    const wanted = 100 - 8 * Math.log(share / (1 - share))
    const chance = seededChance(40 + successes)
    const rule = { successes, steps: [8, 4, 2, 1], lowest: 20, highest: 200 }
    let state: StaircaseState = startStaircase(70)
    const levels: number[] = []
    for (let trial = 0; trial < 20_000; trial++) {
      state = stepStaircase(rule, state, chance.happens(success(state.level)))
      if (trial > 500) levels.push(state.level)
    }
    const mean = levels.reduce((sum, level) => sum + level, 0) / levels.length
    expect(Math.abs(mean - wanted)).toBeLessThan(1.6)
  })

  it('goes up after a row, down after one failure, by smaller steps after each turn, and never beyond its ends', () => {
    const rule = { successes: 2, steps: [8, 4], lowest: 60, highest: 100 }
    const levels = [true, true, false, true, true, true, true, true, true]
      .reduce<StaircaseState[]>(
        (states, success) => [...states, stepStaircase(rule, states.at(-1)!, success)],
        [startStaircase(88)],
      )
      .map(state => state.level)
    expect(levels).toEqual([88, 88, 96, 92, 92, 96, 96, 100, 100, 100])
    expect(stepStaircase(rule, startStaircase(60), false).level).toBe(60)
  })
})
