import { describe, expect, it } from 'vitest'
import { quarters } from '../music/quarters'
import type { PastPass } from './pass'
import { afterReview, REVIEWS, startReview } from './reviews'

const DAY_MS = 86_400_000
const dayOf = (ms: number) => String(Math.floor(ms / DAY_MS))
const pass = (day: number, right = 20, minute = 0): PastPass => ({
  key: 'a',
  stretch: { from: quarters(0), to: quarters(4) },
  hands: 'both',
  mode: 'steady',
  bpm: 60,
  clean: right === 20,
  right,
  notes: 20,
  failed: [],
  atMs: day * DAY_MS + minute * 60_000,
  lengthMs: 10_000,
})

const reviewOf = (reachedAtMs: number, passes: readonly PastPass[]) =>
  passes.reduce((review, one) => afterReview(review, one, dayOf), startReview(reachedAtMs, dayOf))

describe('a review', () => {
  // Facts of spaced repetition (common practice): kept, it comes back later and later; lost, soon; hardly kept, sooner
  // than well kept.
  it('lies further away each time it was kept, and near again when it was lost', () => {
    const onTime = (right: number, times: number) => {
      const passes: PastPass[] = []
      const intervals: number[] = []
      for (let time = 0; time < times; time++) {
        const review = reviewOf(0, passes)
        intervals.push(review.dueAtMs / DAY_MS - (passes.at(-1)?.atMs ?? 0) / DAY_MS)
        passes.push(pass(Math.ceil(review.dueAtMs / DAY_MS), right))
      }
      return { passes, intervals }
    }
    const { passes, intervals } = onTime(20, 5)
    for (let time = 2; time < 4; time++) expect(intervals[time]!).toBeGreaterThan(1.5 * intervals[time - 1]!)
    expect(onTime(19, 3).intervals[2]!).toBeLessThan(intervals[2]!)
    const lost = reviewOf(0, [...passes.slice(0, 3), { ...passes[3]!, right: 8, clean: false }])
    expect(lost.isKept).toBe(false)
    expect(lost.intervalDays).toBeLessThan(intervals[3]! / 2)
  })
  it('is graded by the first pass of a day: later ones say nothing about what was kept', () =>
    expect(reviewOf(0, [pass(4), pass(4, 5, 1)])).toEqual({ ...reviewOf(0, [pass(4)]) }))
  it('the day it was learned is no review', () => expect(reviewOf(1000, [pass(0, 20, 5), pass(0, 3, 9)]).times).toBe(0))
  it('never lies further away than the longest interval', () => {
    let review = reviewOf(0, [])
    const passes: PastPass[] = []
    for (let times = 0; times < 12; times++) {
      passes.push(pass(Math.ceil(review.dueAtMs / DAY_MS)))
      review = reviewOf(0, passes)
    }
    // The scheduler keeps a better grade's interval a day longer than the next worse one's.
    expect(review.intervalDays).toBeLessThanOrEqual(REVIEWS.mostDays + 1)
  })
})
