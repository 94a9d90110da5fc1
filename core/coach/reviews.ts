import { createEmptyCard, fsrs, Rating, type Card, type Grade } from 'ts-fsrs'
import { resultOf } from './ladder'
import type { PastPass } from './pass'

/**
 * When something learned is to be played again, by the Free Spaced Repetition Scheduler (ts-fsrs, its published default weights): the
 * first pass of a day says how well it was kept. The weights were fitted to facts learned from cards, not to hands; what is kept of the
 * model is that intervals grow after a clean return and shrink after a lost one.
 */
export const REVIEWS = {
  /** How likely it should still be there when it comes back. */
  wantedRetention: 0.9,
  mostDays: 60,
} as const

const scheduler = fsrs({ request_retention: REVIEWS.wantedRetention, maximum_interval: REVIEWS.mostDays, enable_fuzz: false, enable_short_term: false })

/** What a first pass of a day says: clean at once is good, nearly clean was hard, a miss is to be learned again. */
const gradeOf = (pass: PastPass): Grade => ({ clean: Rating.Good, near: Rating.Hard, missed: Rating.Again } as const)[resultOf(pass)]

export interface Review {
  /** When it is due, ms since 1970. */
  dueAtMs: number
  lastAtMs: number
  /** Days between the last return and the one that is due. */
  intervalDays: number
  /** How often it came back. */
  times: number
}

/**
 * The review of something that was reached at `reachedAtMs`, from its passes since then, oldest first: of each day the first. `dayOf`
 * says which day a moment belongs to.
 */
export function reviewOf(reachedAtMs: number, passes: readonly PastPass[], dayOf: (ms: number) => string): Review {
  let card: Card = scheduler.next(createEmptyCard(new Date(reachedAtMs)), new Date(reachedAtMs), Rating.Good).card
  let times = 0
  let lastAtMs = reachedAtMs
  let day = dayOf(reachedAtMs)
  for (const pass of passes) {
    if (pass.atMs <= reachedAtMs || dayOf(pass.atMs) === day) continue
    day = dayOf(pass.atMs)
    lastAtMs = pass.atMs
    times++
    card = scheduler.next(card, new Date(pass.atMs), gradeOf(pass)).card
  }
  return { dueAtMs: card.due.getTime(), lastAtMs, intervalDays: card.scheduled_days, times }
}
