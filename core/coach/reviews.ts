import { createEmptyCard, fsrs, Rating, type CardInput, type Grade } from 'ts-fsrs'
import { resultOf } from './ladder'
import type { PastPass } from './pass'

/**
 * When something learned is due again, by the Free Spaced Repetition Scheduler (ts-fsrs, its published default
 * weights): the first pass of a day shows how well it was kept. The weights were fitted to facts learned from cards,
 * not to hands; what is kept of the model is that intervals grow after a clean return and shrink after a lost one.
 */
export const REVIEWS = {
  /** The probability wanted that it is still known when it is due. */
  wantedRetention: 0.9,
  mostDays: 60,
} as const

const scheduler = fsrs({
  request_retention: REVIEWS.wantedRetention,
  maximum_interval: REVIEWS.mostDays,
  enable_fuzz: false,
  enable_short_term: false,
})

/** The grade of a day's first pass: clean is good, nearly clean is hard, a miss is to be learned again. */
const gradeOf = (pass: PastPass): Grade =>
  (({ clean: Rating.Good, near: Rating.Hard, missed: Rating.Again }) as const)[resultOf(pass)]

export interface Review {
  /** When it is due, ms since 1970. */
  dueAtMs: number
  lastAtMs: number
  /** Days between the last return and the next. */
  intervalDays: number
  /** Number of returns. */
  times: number
  /** The day of the last return; only its first pass counts. */
  day: string
  /** Whether that pass was clean or nearly. */
  isKept: boolean
  /** The scheduler's memory, times as ms since 1970. */
  card: CardInput
}

/** The review of something reached at `reachedAtMs` (ms since 1970). `dayOf` gives the day of a time. */
export const startReview = (reachedAtMs: number, dayOf: (ms: number) => string): Review =>
  reviewed(createEmptyCard(new Date(reachedAtMs)), reachedAtMs, Rating.Good, { times: 0, day: dayOf(reachedAtMs) })

/** The review after a pass of the same notes; only the first pass of each day counts. */
export function afterReview(review: Review, pass: PastPass, dayOf: (ms: number) => string): Review {
  const day = dayOf(pass.atMs)
  return day === review.day || pass.atMs <= review.lastAtMs
    ? review
    : reviewed(review.card, pass.atMs, gradeOf(pass), { times: review.times + 1, day })
}

function reviewed(
  before: CardInput,
  atMs: number,
  grade: Grade,
  { times, day }: Pick<Review, 'times' | 'day'>,
): Review {
  const { card } = scheduler.next(before, new Date(atMs), grade)
  return {
    dueAtMs: card.due.getTime(),
    lastAtMs: atMs,
    intervalDays: card.scheduled_days,
    times,
    day,
    isKept: grade !== Rating.Again,
    card: { ...card, due: card.due.getTime(), last_review: atMs },
  }
}
