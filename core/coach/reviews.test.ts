import { createEmptyCard, fsrs, Rating } from 'ts-fsrs'
import { describe, expect, it } from 'vitest'
import { quarters } from '../music/quarters'
import type { PastPass } from './pass'
import { afterReview, REVIEWS, startReview } from './reviews'

const DAY_MS = 86_400_000
const dayOf = (ms: number) => String(Math.floor(ms / DAY_MS))
const pass = (day: number, right = 20, minute = 0): PastPass => ({ key: 'a', stretch: { from: quarters(0), to: quarters(4) }, hands: 'both', mode: 'steady', bpm: 60, clean: right === 20, right, notes: 20, failed: [], atMs: day * DAY_MS + minute * 60_000, lengthMs: 10_000 })

const reviewOf = (reachedAtMs: number, passes: readonly PastPass[]) => passes.reduce((review, one) => afterReview(review, one, dayOf), startReview(reachedAtMs, dayOf))

describe('a review', () => {
  // The published scheduler itself (ts-fsrs), fed with the same days and grades.
  it('is due when the scheduler says, from the first pass of each day', () => {
    const scheduler = fsrs({ request_retention: REVIEWS.wantedRetention, maximum_interval: REVIEWS.mostDays, enable_fuzz: false, enable_short_term: false })
    const graded = [[0, Rating.Good], [4, Rating.Good], [15, Rating.Hard], [30, Rating.Again]] as const
    let card = createEmptyCard(new Date(0))
    for (const [day, rating] of graded) card = scheduler.next(card, new Date(day * DAY_MS), rating).card
    // Later passes of the same day say nothing about what was kept.
    expect(reviewOf(0, [pass(4), pass(4, 5, 1), pass(15, 19), pass(30, 10), pass(30, 20, 3)])).toMatchObject({ dueAtMs: card.due.getTime(), lastAtMs: 30 * DAY_MS, intervalDays: card.scheduled_days, times: 3, isKept: false })
  })
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
