import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { LEARNERS } from '#core/players/learner'
import { coached, everythingReached, fiveTimesEach, wholeSong } from './practising'

const { arrangement } = demoScore('snow-on-the-towpath.musicxml')

/** Against simulated learners with invented numbers: what is promised is the comparison, and that nobody gets stuck (docs/coach.md). */
describe.each(Object.entries(LEARNERS))('the %s learner with the coach', (_, character) => {
  it('needs at most 60 % of the minutes of playing the whole song each time, and 85 % of five times each', () => {
    const [whole, five, coach] = [wholeSong, fiveTimesEach, coached].map(routine => routine(arrangement, character, 11))
    expect(coach!.reached).toBe(true)
    expect(coach!.minutes).toBeLessThanOrEqual(0.6 * whole!.minutes)
    expect(coach!.minutes).toBeLessThanOrEqual(0.85 * five!.minutes)
  })
  it('comes through every stage to the whole song', () => expect(everythingReached(arrangement, character, 11)).toBe(true))
})
