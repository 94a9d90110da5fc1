import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { PRACTICE_ORDERS } from '#core/coach/settings'
import { LEARNERS } from '#core/players/learner'
import { everythingReached, fiveTimesEach, takingTurns, wholeSong } from './practising'

const { arrangement } = demoScore('snow-on-the-towpath.musicxml')

/**
 * Against simulated learners with invented numbers: what is promised is the comparison, and that nobody gets stuck
 * (docs/coach.md).
 */
describe.each(Object.entries(LEARNERS))('the %s learner with the coach', (_, character) => {
  it('in the school of many turns, which was tuned on them, needs at most 60 % of the minutes of playing the whole song each time, and 85 % of five times each', () => {
    const [whole, five, turns] = [wholeSong, fiveTimesEach, takingTurns].map(routine =>
      routine(arrangement, character, 11),
    )
    expect(turns!.reached).toBe(true)
    expect(turns!.minutes).toBeLessThanOrEqual(0.6 * whole!.minutes)
    expect(turns!.minutes).toBeLessThanOrEqual(0.85 * five!.minutes)
  })
  it.each(PRACTICE_ORDERS)('in the school %s comes through every stage to the whole song', school => {
    expect(everythingReached(arrangement, character, 11, { school })).toBe(true)
  })
})
