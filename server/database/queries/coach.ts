import { and, asc, desc, eq, inArray, isNotNull, isNull, max, ne, or, sql } from 'drizzle-orm'
import { coachSettings } from '#core/coach/settings'
import type { PastPass } from '#core/coach/pass'
import { failedPlaces } from '#core/coach/pass'
import type { SongInWork } from '#core/coach/session'
import { planSong, songStanding, type SongPlan } from '#core/coach/song-plan'
import { notesKey } from '#core/parts/notes-key'
import type { Database } from '../../utils/database'
import { arrangements, assessments, days, parts, passes, players, songs, type SkippedItem } from '../schema'
import { latestVersion, stretchOf } from './songs'

/** A song with its parts, the way through it and where the player stands. */
export interface CoachedSong extends SongInWork { arrangementId: string, targetDate: string | null, targetShare: number, partIds: string[] }

/** A song as the coach needs it: the plan for its newest arrangement, and every pass that says something of it. Undefined when it is not there. */
export async function coachedSong(db: Database, ownerId: string, songId: string): Promise<CoachedSong | undefined> {
  const [row] = await db.select({ song: songs, arrangementId: arrangements.id, document: arrangements.document, coach: players.coach }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion))).innerJoin(players, eq(players.id, songs.ownerId))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  if (!row) return undefined
  const itsParts = await db.select().from(parts).where(eq(parts.arrangementId, row.arrangementId)).orderBy(asc(parts.place))
  const plan = planSong(row.document, itsParts.map(part => ({ id: part.id, name: part.name, ...stretchOf(part) })), coachSettings(row.coach), row.song.targetShare)
  const played = await passesOfSong(db, ownerId, row.song.id, plan)
  return {
    songId: row.song.id, title: row.song.title, arrangementId: row.arrangementId, targetDate: row.song.targetDate, targetShare: row.song.targetShare,
    partIds: itsParts.map(part => part.id), plan, passes: played, standing: songStanding(plan, played),
  }
}

/** Passes of the song in any of its arrangements, and of the same notes anywhere else, oldest first. */
async function passesOfSong(db: Database, ownerId: string, songId: string, plan: SongPlan): Promise<PastPass[]> {
  const own = db.select({ id: arrangements.id }).from(arrangements).where(eq(arrangements.songId, songId))
  const rows = await db.select({
    key: passes.notesKey, fromN: passes.fromN, fromD: passes.fromD, toN: passes.toN, toD: passes.toD, hands: passes.hands, mode: passes.mode, bpm: passes.bpm,
    clean: passes.clean, right: passes.right, notes: passes.notes, failed: passes.failed, startedAt: passes.startedAt, lengthMs: passes.lengthMs,
  }).from(passes)
    .where(and(eq(passes.ownerId, ownerId), ne(passes.mode, 'free'), isNotNull(passes.notesKey), or(inArray(passes.arrangementId, own), inArray(passes.notesKey, [...plan.grounds.keys()]))))
    .orderBy(asc(passes.startedAt), asc(passes.id))
  return rows.map(({ key, hands, mode, bpm, clean, right, notes, failed, startedAt, lengthMs, ...edges }) => ({
    key: key!, stretch: stretchOf(edges), hands, mode: mode === 'own-time' ? mode : 'steady', bpm, clean, right, notes, failed: failed ?? [], atMs: startedAt.getTime(), lengthMs,
  }))
}

/** The songs that are being practised, the last played first; before any was played, the newest song. */
export async function songsInWork(db: Database, ownerId: string, most: number, first?: string): Promise<string[]> {
  const last = db.select({ songId: arrangements.songId, at: max(passes.startedAt).as('at') }).from(passes).innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
    .where(eq(passes.ownerId, ownerId)).groupBy(arrangements.songId).as('last')
  const rows = await db.select({ id: songs.id, at: last.at }).from(songs).leftJoin(last, eq(last.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), isNull(songs.archivedAt))).orderBy(sql`${last.at} desc nulls last`, asc(songs.createdAt))
  const played = rows.filter(row => row.at !== null).map(row => row.id)
  const ids = played.length > 0 ? played : rows.slice(0, 1).map(row => row.id)
  const chosen = first !== undefined && rows.some(row => row.id === first) ? [first, ...ids.filter(id => id !== first)] : ids
  return chosen.slice(0, most)
}

export interface PlayerDay { minutes: number, skipped: SkippedItem[], note: string }

/** What the player has said of a day; undefined when nothing. */
export async function playerDay(db: Database, ownerId: string, day: string): Promise<PlayerDay | undefined> {
  const [row] = await db.select({ minutes: days.minutes, skipped: days.skipped, note: days.note }).from(days).where(and(eq(days.ownerId, ownerId), eq(days.day, day)))
  return row
}

/** Changes what is given of a day and leaves the rest; a skipped item is added to the others. */
export async function changeDay(db: Database, ownerId: string, day: string, change: { minutes?: number, note?: string, skipped?: SkippedItem, unskip?: string }): Promise<PlayerDay> {
  return await db.transaction(async (tx) => {
    const [player] = await tx.select({ minutes: players.sessionMinutes }).from(players).where(eq(players.id, ownerId))
    await tx.insert(days).values({ ownerId, day, minutes: change.minutes ?? player!.minutes }).onConflictDoNothing()
    const [before] = await tx.select().from(days).where(and(eq(days.ownerId, ownerId), eq(days.day, day))).for('update')
    const { skipped, unskip } = change
    const others = before!.skipped.filter(one => one.id !== skipped?.id && one.id !== unskip)
    const [row] = await tx.update(days).set({ minutes: change.minutes ?? before!.minutes, note: change.note ?? before!.note, skipped: skipped ? [...others, skipped] : others })
      .where(and(eq(days.ownerId, ownerId), eq(days.day, day))).returning({ minutes: days.minutes, skipped: days.skipped, note: days.note })
    return row!
  })
}

/** The player's own words on days, newest first. */
export async function listDays(db: Database, ownerId: string, limit: number) {
  return await db.select({ day: days.day, minutes: days.minutes, skipped: days.skipped, note: days.note }).from(days).where(eq(days.ownerId, ownerId)).orderBy(desc(days.day)).limit(limit)
}

/** Passes from before the coach: gives them the name of their notes and where they failed. A few hundred at a time, until none is left. */
export async function nameOldPasses(db: Database): Promise<number> {
  const BATCH = 300
  let named = 0
  const documents = new Map<string, (typeof arrangements.$inferSelect)['document']>()
  while (true) {
    const rows = await db.select({ pass: passes, assessment: assessments.document }).from(passes).innerJoin(assessments, eq(assessments.passId, passes.id))
      .where(and(isNull(passes.notesKey), ne(passes.mode, 'free'))).limit(BATCH)
    if (rows.length === 0) return named
    for (const { pass, assessment } of rows) {
      let document = documents.get(pass.arrangementId)
      if (!document) {
        const [row] = await db.select({ document: arrangements.document }).from(arrangements).where(eq(arrangements.id, pass.arrangementId))
        document = row!.document
        if (documents.size > 20) documents.clear()
        documents.set(pass.arrangementId, document)
      }
      await db.update(passes).set({ notesKey: notesKey(document, stretchOf(pass), pass.hands), failed: failedPlaces(document, assessment) }).where(eq(passes.id, pass.id))
      named++
    }
  }
}
