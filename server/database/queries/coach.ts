import { and, asc, desc, eq, gt, inArray, isNotNull, isNull, lte, max, ne, or, sql } from 'drizzle-orm'
import type { PastPass } from '#core/coach/pass'
import type { Arrangement } from '#core/music/arrangement'
import type { PracticeRole } from '#core/coach/session'
import type { SongPlan } from '#core/coach/song-plan'
import type { Database } from '../connection'
import { accounts, arrangements, assessments, days, passes, records, songs, sums, type SkippedItem } from '../schema'
import { newestFirst } from './logbook'
import { newestRevision } from './arrangements'
import { stretchOf } from './parts'
import { isThere } from './songs'

/** What the coach needs to know of a song, but for its notes and parts. */
export async function songForCoach(db: Database, ownerId: string, songId: string) {
  const [row] = await db
    .select({
      title: songs.title,
      role: songs.role,
      targetDate: songs.targetDate,
      targetShare: songs.targetShare,
      arrangementId: arrangements.id,
      arrangementIds: sql<
        string[]
      >`(select array_agg(its.id) from ${arrangements} its where its.song_id = ${songs.id})`,
      coach: accounts.coach,
      timeZone: accounts.timeZone,
      passesKept: accounts.passesKept,
      kept: records,
    })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .innerJoin(accounts, eq(accounts.id, songs.ownerId))
    .leftJoin(records, eq(records.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId), isThere))
  return row
}

export type KeptRecord = typeof records.$inferSelect

/** Stores the record of a song up to a pass. */
export async function keepRecord(db: Database, row: KeptRecord): Promise<void> {
  await db.insert(records).values(row).onConflictDoUpdate({ target: records.songId, set: row })
}

/** The notes of a song's earlier revisions, newest first. */
export async function earlierRevisions(
  db: Database,
  songId: string,
  arrangementId: string,
  most: number,
): Promise<Arrangement[]> {
  const rows = await db
    .select({ document: arrangements.document })
    .from(arrangements)
    .where(and(eq(arrangements.songId, songId), ne(arrangements.id, arrangementId)))
    .orderBy(desc(arrangements.revision))
    .limit(most)
  return rows.map(row => row.document)
}

/** The newest arrangements of a song's other editions, newest first, at most MAX_EDITIONS. */
export async function editionArrangementIds(db: Database, ownerId: string, songId: string): Promise<string[]> {
  const root = sql`(select coalesce(own.edition_of, own.id) from ${songs} own where own.id = ${songId} and own.owner_id = ${ownerId})`
  const rows = await db
    .select({ id: arrangements.id })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .where(and(eq(songs.ownerId, ownerId), ne(songs.id, songId), or(eq(songs.id, root), eq(songs.editionOf, root))))
    .orderBy(desc(songs.createdAt))
    .limit(MAX_EDITIONS)
  return rows.map(row => row.id)
}
const MAX_EDITIONS = 5

/** The notes of some arrangements of the player's. */
export async function documentsOf(db: Database, ownerId: string, ids: readonly string[]): Promise<Arrangement[]> {
  if (ids.length === 0) return []
  const rows = await db
    .select({ document: arrangements.document })
    .from(arrangements)
    .where(and(eq(arrangements.ownerId, ownerId), inArray(arrangements.id, [...ids])))
  return rows.map(row => row.document)
}

/**
 * Passes of a song's arrangements, of its other editions, and of the same notes anywhere else, oldest first; of the
 * player's passes those with ordinals above `after` and up to `upTo`.
 */
export async function passesOfSong(
  db: Database,
  ownerId: string,
  { arrangementIds, editionIds }: { arrangementIds: string[]; editionIds: string[] },
  plan: Pick<SongPlan, 'ranges' | 'changes'>,
  { after, upTo }: { after: number; upTo: number },
): Promise<PastPass[]> {
  const own = new Set(arrangementIds)
  const rows = await db
    .select({
      arrangementId: passes.arrangementId,
      key: passes.notesKey,
      fromN: passes.fromN,
      fromD: passes.fromD,
      toN: passes.toN,
      toD: passes.toD,
      hands: passes.hands,
      mode: passes.mode,
      bpm: passes.bpm,
      clean: sql<boolean>`${passes.clean} or coalesce(${passes.cleanBefore}, false)`,
      cleanBut: passes.cleanBut,
      strictness: passes.strictness,
      ownSpot: passes.ownSpot,
      right: passes.right,
      notes: passes.notes,
      failed: passes.failed,
      startedAt: passes.startedAt,
      lengthMs: passes.lengthMs,
    })
    .from(passes)
    .where(
      and(
        eq(passes.ownerId, ownerId),
        gt(passes.ordinal, after),
        lte(passes.ordinal, upTo),
        isNotNull(passes.notesKey),
        or(
          inArray(passes.arrangementId, [...arrangementIds, ...editionIds]),
          inArray(passes.notesKey, [...plan.ranges.keys(), ...plan.changes.keys.keys()]),
        ),
      ),
    )
    .orderBy(asc(passes.startedAt), asc(passes.ordinal))
  return rows.map(
    ({
      arrangementId,
      key,
      hands,
      mode,
      bpm,
      clean,
      cleanBut,
      strictness,
      ownSpot,
      right,
      notes,
      failed,
      startedAt,
      lengthMs,
      ...edges
    }) => ({
      key: key!,
      stretch: stretchOf(edges),
      hands,
      mode: mode === 'own-time' ? mode : 'steady',
      bpm,
      clean,
      cleanBut,
      strictness,
      right,
      notes,
      failed: failed ?? [],
      atMs: startedAt.getTime(),
      lengthMs,
      ...(ownSpot ? { isOwnSpot: true } : {}),
      ...(own.has(arrangementId) || plan.ranges.has(key!) || plan.changes.keys.has(key!)
        ? {}
        : { edition: arrangementId }),
    }),
  )
}

/** When the newest passes began, newest first. */
export async function newestStarts(db: Database, ownerId: string, most: number): Promise<Date[]> {
  const rows = await db
    .select({ startedAt: passes.startedAt })
    .from(passes)
    .where(eq(passes.ownerId, ownerId))
    .orderBy(...newestFirst)
    .limit(most)
  return rows.map(row => row.startedAt)
}

/**
 * The songs that are being practised, the last played first; before any was played, the first song. Then what is warmed
 * up with, and the drills left alone longest: a few of each, whether they were ever played or not, so that a day has
 * its place for them.
 */
export async function songsInWork(db: Database, ownerId: string, most: number, first?: string): Promise<string[]> {
  const last = db
    .select({ songId: sums.songId, at: max(sums.lastAt).as('at') })
    .from(sums)
    .where(eq(sums.ownerId, ownerId))
    .groupBy(sums.songId)
    .as('last')
  const rows = await db
    .select({ id: songs.id, role: songs.role, at: last.at })
    .from(songs)
    .leftJoin(last, eq(last.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), isThere, isNull(songs.archivedAt)))
    .orderBy(sql`${last.at} desc nulls last`, asc(songs.createdAt))
  const learned = rows.filter(row => row.role === 'song')
  const played = learned.filter(row => row.at !== null)
  const ids = (played.length > 0 ? played : learned.slice(0, 1)).map(row => row.id)
  const chosen =
    first !== undefined && learned.some(row => row.id === first) ? [first, ...ids.filter(id => id !== first)] : ids
  const beside = (role: PracticeRole) =>
    rows
      .filter(row => row.role === role)
      .reverse()
      .slice(0, MAX_BESIDE)
      .map(row => row.id)
  return [...chosen.slice(0, most), ...beside('warm-up'), ...beside('drill')]
}

/** Warm-ups, and drills, considered for a day. */
const MAX_BESIDE = 2

export interface PlayerDay {
  minutes: number
  skipped: SkippedItem[]
  note: string
}

/** The player's own words on a day; undefined without any. */
export async function playerDay(db: Database, ownerId: string, day: string): Promise<PlayerDay | undefined> {
  const [row] = await db
    .select({ minutes: days.minutes, skipped: days.skipped, note: days.note })
    .from(days)
    .where(and(eq(days.ownerId, ownerId), eq(days.day, day)))
  return row
}

/** Changes what is given of a day and leaves the rest; a skipped item is added to the others. */
export async function changeDay(
  db: Database,
  ownerId: string,
  day: string,
  change: { minutes?: number; note?: string; skipped?: SkippedItem; unskip?: string },
): Promise<PlayerDay> {
  return await db.transaction(async tx => {
    const [player] = await tx
      .select({ minutes: accounts.sessionMinutes })
      .from(accounts)
      .where(eq(accounts.id, ownerId))
    await tx
      .insert(days)
      .values({ ownerId, day, minutes: change.minutes ?? player!.minutes })
      .onConflictDoNothing()
    const [before] = await tx
      .select()
      .from(days)
      .where(and(eq(days.ownerId, ownerId), eq(days.day, day)))
      .for('update')
    const { skipped, unskip } = change
    const others = before!.skipped.filter(one => one.id !== skipped?.id && one.id !== unskip)
    const [row] = await tx
      .update(days)
      .set({
        minutes: change.minutes ?? before!.minutes,
        note: change.note ?? before!.note,
        skipped: skipped ? [...others, skipped] : others,
      })
      .where(and(eq(days.ownerId, ownerId), eq(days.day, day)))
      .returning({ minutes: days.minutes, skipped: days.skipped, note: days.note })
    return row!
  })
}

/** The player's own words on days, newest first. */
export async function listDays(db: Database, ownerId: string, limit: number) {
  return await db
    .select({ day: days.day, minutes: days.minutes, skipped: days.skipped, note: days.note })
    .from(days)
    .where(eq(days.ownerId, ownerId))
    .orderBy(desc(days.day))
    .limit(limit)
}

/** Passes that have no name of their notes yet (kept before the coach existed), with their assessments. */
export async function passesWithoutNotesKey(db: Database, limit: number) {
  return await db
    .select({ pass: passes, assessment: assessments.document })
    .from(passes)
    .innerJoin(assessments, eq(assessments.passId, passes.id))
    .where(and(isNull(passes.notesKey), ne(passes.mode, 'free')))
    .limit(limit)
}

/** Stores the name of a pass's notes and the places where it failed. */
export async function setNotesKey(
  db: Database,
  passId: string,
  row: Pick<typeof passes.$inferInsert, 'notesKey' | 'failed'>,
): Promise<void> {
  await db.update(passes).set(row).where(eq(passes.id, passId))
}
