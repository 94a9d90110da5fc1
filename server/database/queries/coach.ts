import { createHash } from 'node:crypto'
import { and, asc, desc, eq, gt, inArray, isNotNull, isNull, lte, max, ne, or, sql } from 'drizzle-orm'
import { daysIn } from '#core/coach/days'
import { coachSettings } from '#core/coach/settings'
import type { PastPass } from '#core/coach/pass'
import { failedPlaces } from '#core/coach/pass'
import type { Arrangement } from '#core/music/arrangement'
import { afterPasses, restoredRecord, startRecord, storedRecord, type SongRecord } from '#core/coach/record'
import type { SongInWork } from '#core/coach/session'
import { planSong, type SongPlan } from '#core/coach/song-plan'
import { notesKey } from '#core/parts/notes-key'
import type { Database } from '../../utils/database'
import { arrangements, assessments, days, parts, passes, players, records, songs, sums, type SkippedItem } from '../schema'
import { newestFirst } from './logbook'
import { latestVersion, stretchOf } from './songs'

/** A song with its parts, the way through it and where the player stands. */
export interface CoachedSong extends SongInWork { arrangementId: string, targetDate: string | null, targetShare: number }

/**
 * A song as the coach needs it: the plan for its newest arrangement, and the record of every pass that says something of it. Undefined when it is
 * not there. `program` names this build: another one may judge passes differently.
 */
export async function coachedSong(db: Database, ownerId: string, songId: string, program: string): Promise<CoachedSong | undefined> {
  const [row] = await db.select({
    title: songs.title, targetDate: songs.targetDate, targetShare: songs.targetShare, arrangementId: arrangements.id, document: arrangements.document,
    arrangementIds: sql<string[]>`(select array_agg(its.id) from ${arrangements} its where its.song_id = ${songs.id})`,
    coach: players.coach, timeZone: players.timeZone, passesKept: players.passesKept, kept: records,
  }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion))).innerJoin(players, eq(players.id, songs.ownerId))
    .leftJoin(records, eq(records.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  if (!row) return undefined
  const { title, targetDate, targetShare, arrangementId, arrangementIds, document, timeZone, passesKept } = row
  const itsParts = (await db.select().from(parts).where(eq(parts.arrangementId, arrangementId)).orderBy(asc(parts.place)))
    .map(part => ({ id: part.id, name: part.name, ...(part.section === null ? {} : { section: part.section }), ...stretchOf(part) }))
  const settings = coachSettings(row.coach)
  const basis = createHash('sha256').update(JSON.stringify([program, arrangementId, itsParts, settings, targetShare, timeZone])).digest('base64url')
  const kept = row.kept?.basis === basis ? row.kept : null
  const past = kept ? { changes: restoredRecord(kept.record).changes } : { formers: await formersOf(db, songId, arrangementId) }
  const plan = planSong(document, itsParts, settings, targetShare, past)
  const record = await recordOf(db, { ownerId, songId, arrangementId, arrangementIds, plan, basis, dayOf: daysIn(timeZone), passesKept, kept })
  return { songId, title, arrangementId, targetDate, targetShare, plan, record }
}

/** So many earlier versions of a song are looked at for what did not change since. */
const FORMERS = 5

/** The notes of a song's earlier versions, newest first. */
async function formersOf(db: Database, songId: string, arrangementId: string): Promise<Arrangement[]> {
  const rows = await db.select({ document: arrangements.document }).from(arrangements).where(and(eq(arrangements.songId, songId), ne(arrangements.id, arrangementId))).orderBy(desc(arrangements.version)).limit(FORMERS)
  return rows.map(row => row.document)
}

/** So many passes are read again before the record is written anew. */
const UNWRITTEN = 25

interface RecordWanted { ownerId: string, songId: string, arrangementId: string, arrangementIds: string[], plan: SongPlan, basis: string, dayOf: (ms: number) => string, passesKept: number, kept: typeof records.$inferSelect | null }

/** The record of a song: what was kept of it, and the passes since then; from the first pass on where one came late that is older than what is known. */
async function recordOf(db: Database, wanted: RecordWanted): Promise<SongRecord> {
  const { ownerId, songId, arrangementId, arrangementIds, plan, basis, dayOf, passesKept, kept } = wanted
  const known = kept ? restoredRecord(kept.record).record : startRecord(plan)
  if (kept?.upTo === passesKept) return known
  const newer = await passesOfSong(db, ownerId, arrangementIds, plan, { after: kept?.upTo ?? 0, upTo: passesKept })
  const newestMs = known.newestDay.at(-1)?.atMs ?? -Infinity
  // One that came late: all of it again.
  if (newer.length > 0 && newer[0]!.atMs < newestMs) {
    const formers = kept ? await formersOf(db, songId, arrangementId) : plan.formers
    return await recordOf(db, { ...wanted, plan: { ...plan, formers }, kept: null })
  }
  const record = afterPasses(plan, known, newer, dayOf)
  // What earlier versions have to say is worked out once.
  if (newer.length >= UNWRITTEN || (!kept && plan.formers.length > 0)) {
    const row = { songId, basis, upTo: passesKept, record: storedRecord(plan, record) }
    await db.insert(records).values(row).onConflictDoUpdate({ target: records.songId, set: row })
  }
  return record
}

/** Passes of a song's arrangements, and of the same notes anywhere else, oldest first; of the player's passes those with ordinals above `after` and up to `upTo`. */
async function passesOfSong(db: Database, ownerId: string, arrangementIds: string[], plan: SongPlan, { after, upTo }: { after: number, upTo: number }): Promise<PastPass[]> {
  const rows = await db.select({
    key: passes.notesKey, fromN: passes.fromN, fromD: passes.fromD, toN: passes.toN, toD: passes.toD, hands: passes.hands, mode: passes.mode, bpm: passes.bpm,
    clean: sql<boolean>`${passes.clean} or coalesce(${passes.cleanBefore}, false)`, cleanBut: passes.cleanBut, strictness: passes.strictness, ownSpot: passes.ownSpot, right: passes.right, notes: passes.notes, failed: passes.failed, startedAt: passes.startedAt, lengthMs: passes.lengthMs,
  }).from(passes)
    .where(and(eq(passes.ownerId, ownerId), gt(passes.ordinal, after), lte(passes.ordinal, upTo), ne(passes.mode, 'free'), isNotNull(passes.notesKey), or(inArray(passes.arrangementId, arrangementIds), inArray(passes.notesKey, [...plan.ranges.keys(), ...plan.changes.keys.keys()]))))
    .orderBy(asc(passes.startedAt), asc(passes.ordinal))
  return rows.map(({ key, hands, mode, bpm, clean, cleanBut, strictness, ownSpot, right, notes, failed, startedAt, lengthMs, ...edges }) => ({
    key: key!, stretch: stretchOf(edges), hands, mode: mode === 'own-time' ? mode : 'steady', bpm, clean, cleanBut, strictness, right, notes, failed: failed ?? [], atMs: startedAt.getTime(), lengthMs, ...(ownSpot ? { isOwnSpot: true } : {}),
  }))
}

/** When the newest passes began, newest first. */
export async function newestStarts(db: Database, ownerId: string, most: number): Promise<Date[]> {
  const rows = await db.select({ startedAt: passes.startedAt }).from(passes).where(eq(passes.ownerId, ownerId)).orderBy(...newestFirst).limit(most)
  return rows.map(row => row.startedAt)
}

/** The songs that are being practised, the last played first; before any was played, the newest song. */
export async function songsInWork(db: Database, ownerId: string, most: number, first?: string): Promise<string[]> {
  const last = db.select({ songId: sums.songId, at: max(sums.lastAt).as('at') }).from(sums).where(eq(sums.ownerId, ownerId)).groupBy(sums.songId).as('last')
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
