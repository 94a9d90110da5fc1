import { cautionsFor } from '#core/coach/cautions'
import { comingDays } from '#core/coach/coming-days'
import { daysIn } from '#core/coach/days'
import { minutesPlayed } from '#core/coach/pass'
import { passesOfDay } from '#core/coach/record'
import { isLearned, planSession } from '#core/coach/session'
import { songProgressShare } from '#core/coach/song-plan'
import { showPass } from '#core/coach/stairs'
import { playerSettings } from '../database/queries/accounts'
import { playerDay, songsInWork } from '../database/queries/coach'
import type { Database } from '../database/connection'
import { forecastOf } from '../domain/song-forecast'
import { partOf } from '../domain/part-of'
import type { CoachedSong } from '../domain/coached-song'
import { JobLimitExceeded } from '../heavy/pool'
import { notThere } from './refusal'

/**
 * When it is planned, for how many minutes, and the song that is to be the main one; what is left out is the player's
 * own.
 */
export interface TodayWanted {
  at: Date
  minutes?: number
  song?: string
}

/** Songs whose reviews are looked after. */
const MAX_SONGS = 6

/** A song that is too large to be planned is left out, and the others have their day. */
const skipOverLimit = async <Made>(made: Promise<Made>): Promise<Made | undefined> =>
  await made.catch((error: unknown) => {
    if (error instanceof JobLimitExceeded) return undefined
    throw error
  })

/** The session of the day as it stands now, planned again from everything played so far. Throws a Refusal. */
export async function planToday(
  db: Database,
  ownerId: string,
  { at, minutes: asked, song }: TodayWanted,
  coached: (songId: string) => Promise<CoachedSong | undefined>,
) {
  const settings = await playerSettings(db, ownerId)
  if (!settings) throw notThere('this player')
  const [dayOf, nowMs] = [daysIn(settings.timeZone), at.getTime()]
  const day = dayOf(nowMs)
  const [said, ids] = await Promise.all([playerDay(db, ownerId, day), songsInWork(db, ownerId, MAX_SONGS, song)])
  const songs = (await Promise.all(ids.map(async id => await skipOverLimit(coached(id))))).flatMap(one => one ?? [])
  const today = songs.flatMap(one => passesOfDay(one.record, day, dayOf)).sort((a, b) => a.atMs - b.atMs)
  const played = minutesPlayed(today)
  const minutes = asked ?? said?.minutes ?? settings.sessionMinutes
  const skipped = said?.skipped ?? []
  const items = planSession(songs, {
    minutes: Math.max(0, minutes - played),
    nowMs,
    skipped: skipped.map(one => one.id),
    dayOf,
  })
  const learned = songs.filter(isLearned)
  const [main] = learned
  return {
    day,
    minutes,
    played,
    skipped,
    note: said?.note ?? '',
    items: items.map(({ what, ...item }) => {
      const its = songs.find(one => one.songId === item.songId)
      return {
        ...item,
        what: what && its ? { ...showPass(its.plan, what), partId: partOf(its, what.stretch) } : undefined,
      }
    }),
    cautions: cautionsFor(today, nowMs),
    coming: comingDays(songs, nowMs, 7, dayOf),
    songs: learned.map(({ songId, title, plan, record, targetDate }) => ({
      id: songId,
      title,
      targetDate,
      progress: songProgressShare(plan, record.standing),
    })),
    main: main
      ? {
          id: main.songId,
          title: main.title,
          targetDate: main.targetDate,
          targetShare: main.targetShare,
          ...forecastOf(main, dayOf, nowMs),
        }
      : null,
  }
}
