import type { PassResult } from './evidence'
import { describe, expect, it } from 'vitest'
import { seededChance } from '../players/randomness'
import { climbAdaptive, startAdaptive, type AdaptiveState } from './adaptive'

const rule = { gate: 3, targetBpm: 100, slowestBpm: 30 }
const after = (results: PassResult[], bpm = 60) =>
  results.reduce<ReturnType<typeof climbAdaptive>[]>(
    (all, result) => [...all, climbAdaptive(rule, all.at(-1)?.state ?? startAdaptive(bpm), result)],
    [],
  )

describe('adaptive tempo', () => {
  it('goes up after two clean in a row, down after a miss, by smaller steps after each turn', () =>
    expect(
      after(['clean', 'clean', 'clean', 'clean', 'missed', 'clean', 'clean', 'missed']).map(one => Math.round(one.bpm)),
    ).toEqual([60, 70, 70, 80, 74, 74, 77, 74]))
  it('nearly clean changes nothing, but many in a row come down', () => {
    const moves = after(Array.from({ length: 6 }, () => 'near' as const))
    expect(moves.slice(0, 5).every(one => one.bpm === 60 && one.move === 'again')).toBe(true)
    expect(moves[5]!.move).toBe('down')
  })
  it('asks for the gate at the target, and says so', () =>
    expect(after(['clean', 'clean', 'clean'], 100).map(one => one.move)).toEqual(['again', 'again', 'top']))
  it('going to and fro without a new best asks for something else', () => {
    const story = after(Array.from({ length: 40 }, (_, index) => (['clean', 'clean', 'missed'] as const)[index % 3]!))
    expect(story.some(one => one.help === 'smaller-loop')).toBe(true)
    expect(
      after(Array.from({ length: 30 }, () => 'missed' as const))
        .filter(one => one.help)
        .map(one => one.help),
    ).toContain('own-time')
  })
  // Levitt 1971, Transformed up-down methods in psychoacoustics, J. Acoust. Soc. Am. 49: two successes up, one failure
  // down settles at 70.7 %.
  it('settles at the tempo that goes clean in 70.7 % of passes', () => {
    const clean = (bpm: number) => 1 / (1 + Math.exp((bpm - 80) / 5))
    const wanted = 80 - 5 * Math.log(0.707 / 0.293)
    const chance = seededChance(7)
    let state: AdaptiveState = startAdaptive(50)
    const tempos: number[] = []
    for (let pass = 0; pass < 8000; pass++) {
      state = climbAdaptive(
        { ...rule, targetBpm: 200 },
        state,
        chance.happens(clean(state.staircase.level)) ? 'clean' : 'missed',
      ).state
      if (pass > 200) tempos.push(state.staircase.level)
    }
    // The last step is 3 % of the target, 6 bpm: the mean lies within half a step.
    expect(Math.abs(tempos.reduce((sum, bpm) => sum + bpm, 0) / tempos.length - wanted)).toBeLessThan(3)
  })
})
