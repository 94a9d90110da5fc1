import { dueReviews, isLearned, type SongInWork } from './session'

/** A day to come with the reviews due on it. */
export interface ComingDay {
  day: string
  dueAtMs: number
  reviews: { title: string; part: string }[]
}

const DAY_MS = 86_400_000

/** The coming days, today first, with the reviews that fall on each; overdue ones fall on today. */
export function comingDays(
  songs: readonly SongInWork[],
  nowMs: number,
  count: number,
  dayOf: (ms: number) => string,
): ComingDay[] {
  const days = Array.from({ length: count }, (_, index): ComingDay => ({
    day: dayOf(nowMs + index * DAY_MS),
    dueAtMs: nowMs + index * DAY_MS,
    reviews: [],
  }))
  for (const song of songs.filter(isLearned)) {
    for (const { stage, review } of dueReviews(song, nowMs + count * DAY_MS)) {
      const day = dayOf(Math.max(nowMs, review.dueAtMs))
      days.find(one => one.day === day)?.reviews.push({ title: song.title, part: stage.unit.names[0]! })
    }
  }
  return days
}
