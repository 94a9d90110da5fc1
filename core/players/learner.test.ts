import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { quarters } from '../music/quarters'
import { createLearner, learnersRange, LEARNERS } from './learner'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const STRETCH = { from: quarters(0), to: quarters(16) }
const [right, both] = [learnersRange(arrangement, STRETCH, 'right'), learnersRange(arrangement, STRETCH, 'both')]
const after = (passes: number, bpm: number | undefined, character = LEARNERS.ordinary) => {
  const learner = createLearner(character, 3)
  for (let pass = 0; pass < passes; pass++) learner.play(right, bpm)
  return learner
}

describe.each(Object.entries(LEARNERS))('the %s learner', (_, character) => {
  it('errs less with practice, and more at a faster tempo', () => {
    const shares = [0, 5, 20, 60].map(passes => after(passes, 50, character).expectedRight(right, 90))
    expect(shares).toEqual([...shares].sort((a, b) => a - b))
    expect(shares[3]! - shares[0]!).toBeGreaterThan(0.03)
    const learner = after(20, 50, character)
    const byTempo = [40, 80, 120, 160].map(bpm => learner.expectedRight(right, bpm))
    expect(byTempo).toEqual([...byTempo].sort((a, b) => b - a))
  })
  it('forgets over days, less so what was practised on several', () => {
    const once = after(40, 50, character)
    const fresh = once.expectedRight(right, 90)
    once.sleep(10)
    expect(once.expectedRight(right, 90)).toBeLessThan(fresh)
    const spread = createLearner(character, 3)
    for (let day = 0; day < 4; day++) {
      for (let pass = 0; pass < 10; pass++) spread.play(right, 50)
      if (day < 3) spread.sleep()
    }
    spread.sleep(10)
    expect(spread.expectedRight(right, 90)).toBeGreaterThan(once.expectedRight(right, 90))
  })
})

describe('learners', () => {
  it('find together harder than one hand, however well the hands are known', () => {
    const learner = createLearner(LEARNERS.ordinary, 1)
    for (const hands of ['right', 'left'] as const)
      for (let pass = 0; pass < 60; pass++) learner.play(learnersRange(arrangement, STRETCH, hands), 60)
    const share = learner.expectedRight(both, 100)
    for (let pass = 0; pass < 40; pass++) learner.play(both, 60)
    expect(learner.expectedRight(both, 100)).toBeGreaterThan(share)
  })
  it('learn a transition wherever it comes back', () => {
    const learner = after(40, 50)
    expect(
      learner.expectedRight(learnersRange(arrangement, { from: quarters(96), to: quarters(112) }, 'right'), 90),
    ).toBeGreaterThan(createLearner(LEARNERS.ordinary, 1).expectedRight(right, 90))
  })
  it('play the same on the same seed', () =>
    expect(after(10, 60).play(right, 80)).toEqual(after(10, 60).play(right, 80)))
  it('need more time in their own time than with the click once they know it, and err less while they do not', () => {
    const errors = (bpm?: number) => {
      const learner = createLearner(LEARNERS.ordinary, 5)
      return Array.from({ length: 20 }, () => learner.play(right, bpm).failed.length).reduce((sum, one) => sum + one, 0)
    }
    expect(errors()).toBeLessThan(errors(96))
  })
})
