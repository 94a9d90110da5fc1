import type { Changes } from './changes'
import type { StageProgress } from './stage-progress'
import type { ProgressDay } from './forecast'
import type { PastPass } from './pass'
import { afterReview, startReview, type Review } from './reviews'
import {
  afterEditionPass,
  afterSongPass,
  songProgressShare,
  startSong,
  type SongPlan,
  type SongProgress,
} from './song-plan'

/**
 * What the passes of a song add up to: progress, reviews, and progress by day. Folded from the passes one after the
 * other, so that older ones need not be read again; it holds nothing that does not follow from them.
 */
export interface SongRecord {
  standing: SongProgress
  /** By stage, for stages with an open gate. */
  reviews: ReadonlyMap<string, Review>
  /** Days of practice, oldest first. */
  days: readonly ProgressDay[]
  /** The passes of the newest day, oldest first. */
  newestDay: readonly PastPass[]
}

export const startRecord = (plan: SongPlan): SongRecord => ({
  standing: startSong(plan),
  reviews: new Map(),
  days: [],
  newestDay: [],
})

/**
 * The record after more passes, oldest first and none older than those already in it. `dayOf` gives the day of a time
 * (ms since 1970).
 */
export function afterPasses(
  plan: SongPlan,
  record: SongRecord,
  all: readonly PastPass[],
  dayOf: (ms: number) => string,
): SongRecord {
  // Passes in other editions are no practice of this one, but their steps are known.
  const passes = all.filter(pass => pass.edition === undefined)
  const reviews = new Map(record.reviews)
  const days = [...record.days]
  let standing = all
    .filter(pass => pass.edition !== undefined)
    .reduce((before, pass) => afterEditionPass(plan, before, pass), record.standing)
  let newestDay = [...record.newestDay]
  let minutes = days.at(-1)?.minutes ?? 0
  for (const [index, pass] of passes.entries()) {
    const before = standing
    // Played under the notes key from before a change.
    const own = plan.changes.keys.get(pass.key) ?? pass.key
    standing = afterSongPass(plan, standing, pass)
    for (const [key, { reachedAtMs }] of standing === before ? [] : standing.stages) {
      if (reachedAtMs === undefined || reachedAtMs === before.stages.get(key)!.reachedAtMs) continue
      // A stage raised by a pass of something else starts its review, or keeps the one it has.
      if (key === own || !reviews.has(key)) reviews.set(key, startReview(reachedAtMs, dayOf))
    }
    const review = reviews.get(own)
    if (review) reviews.set(own, afterReview(review, pass, dayOf))
    minutes += pass.lengthMs / 60_000
    const day = dayOf(pass.atMs)
    const isOfNewest = newestDay.length > 0 && dayOf(newestDay[0]!.atMs) === day
    if (isOfNewest) newestDay.push(pass)
    else newestDay = [pass]
    const next = passes[index + 1]
    if (next && dayOf(next.atMs) === day) continue
    if (days.at(-1)?.day === day) days.pop()
    days.push({ day, minutes, progress: songProgressShare(plan, standing) })
  }
  return { standing, reviews, days, newestDay }
}

/** Today's passes of a record, oldest first; none when the newest day is another one. */
export const passesOfDay = (
  { newestDay }: Pick<SongRecord, 'newestDay'>,
  day: string,
  dayOf: (ms: number) => string,
): readonly PastPass[] => (newestDay.length > 0 && dayOf(newestDay[0]!.atMs) === day ? newestDay : [])

/** A record as stored in JSON, with the changes of the song since it was learned. */
export interface StoredRecord {
  stages: [string, StageProgress][]
  shown: [string, number][]
  reviews: [string, Review][]
  days: readonly ProgressDay[]
  newestDay: readonly PastPass[]
  changes: { keys: [string, string][]; again: [string, readonly string[]][] }
}

export const storedRecord = (
  { changes }: Pick<SongPlan, 'changes'>,
  { standing, reviews, days, newestDay }: SongRecord,
): StoredRecord => ({
  stages: [...standing.stages],
  shown: [...standing.shown],
  reviews: [...reviews],
  days,
  newestDay,
  changes: { keys: [...changes.keys], again: [...changes.again] },
})

export const restoredRecord = ({
  stages,
  shown,
  reviews,
  days,
  newestDay,
  changes,
}: StoredRecord): { record: SongRecord; changes: Changes } => ({
  record: { standing: { stages: new Map(stages), shown: new Map(shown) }, reviews: new Map(reviews), days, newestDay },
  changes: { keys: new Map(changes.keys), again: new Map(changes.again) },
})
