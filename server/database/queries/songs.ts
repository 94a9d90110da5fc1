import {
  and,
  asc,
  count,
  desc,
  eq,
  inArray,
  isNotNull,
  isNull,
  lt,
  max,
  ne,
  notExists,
  or,
  sql,
  sum,
} from 'drizzle-orm'
import type { PracticeRole } from '#core/coach/session'
import { PROPOSAL, type ProposedPart } from '#core/parts/propose'
import type { SongOrigin } from '#core/formats/song-origin'
import type { Database, Transaction } from '../connection'
import { arrangements, parts, passes, records, songs, sums, takes } from '../schema'
import type { ScoreText } from '../../domain/score-text'
import { documentOf, newestRevision } from './arrangements'

/**
 * Facts about a new song: its origin, its role in a day, and the song it is an edition of, with its name and proposal
 * of parts.
 */
export interface NewSong {
  origin: SongOrigin
  role?: PracticeRole
  edition?: { of: string; name: string; proposal?: number }
}

/**
 * Keeps a song with its first arrangement and parts, all or nothing; as an edition beside another song where `edition`
 * says so. Gives the song's id, undefined when that other song is not there.
 */
export async function insertSong(
  db: Database,
  ownerId: string,
  score: ScoreText,
  proposed: readonly ProposedPart[],
  { edition, origin, role }: NewSong,
): Promise<string | undefined> {
  return await db.transaction(async tx => {
    const first = edition ? await firstEditionOf(tx, ownerId, edition.of) : undefined
    if (edition && !first) return undefined
    const [song] = await tx
      .insert(songs)
      .values({
        ownerId,
        origin,
        role,
        proposal: edition?.proposal ?? PROPOSAL,
        title: score.title,
        composer: score.composer,
        ...(edition ? { editionOf: first, edition: edition.name } : {}),
      })
      .returning({ id: songs.id })
    const [saved] = await tx
      .insert(arrangements)
      .values({
        ownerId,
        songId: song!.id,
        revision: 1,
        bars: score.bars,
        document: documentOf(score),
        musicXml: score.musicXml,
      })
      .returning({ id: arrangements.id })
    await tx.insert(parts).values(
      proposed.map(({ name, section, from, to }, place) => ({
        ownerId,
        arrangementId: saved!.id,
        place,
        name,
        section: section ?? null,
        fromN: from.n,
        fromD: from.d,
        toN: to.n,
        toD: to.d,
      })),
    )
    return song!.id
  })
}

/** What the player has not deleted. */
export const isThere = isNull(songs.deletedAt)

/**
 * A player's songs and what they warm up with, the last practised first; those put away instead when `archived`, and
 * their drills when `isDrills`.
 */
export async function listSongs(db: Database, ownerId: string, { archived = false, isDrills = false } = {}) {
  const practised = db
    .select({
      songId: sums.songId,
      passes: sum(sums.passes).as('passes'),
      lastPractised: max(sums.lastAt).as('last_practised'),
    })
    .from(sums)
    .where(eq(sums.ownerId, ownerId))
    .groupBy(sums.songId)
    .as('practised')
  return await db
    .select({
      id: songs.id,
      title: songs.title,
      composer: songs.composer,
      edition: songs.edition,
      role: songs.role,
      origin: songs.origin,
      bars: arrangements.bars,
      parts: sql<number>`(select count(*)::int from ${parts} where ${parts.arrangementId} = ${arrangements.id})`,
      passes: sql<number>`coalesce(${practised.passes}, 0)::int`,
      lastPractised: practised.lastPractised,
    })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .leftJoin(practised, eq(practised.songId, songs.id))
    .where(
      and(
        eq(songs.ownerId, ownerId),
        isThere,
        archived ? isNotNull(songs.archivedAt) : isNull(songs.archivedAt),
        isDrills ? eq(songs.role, 'drill') : ne(songs.role, 'drill'),
      ),
    )
    .orderBy(sql`${practised.lastPractised} desc nulls last`, asc(songs.title))
}

/** A player's songs that are not put away, each with its newest arrangement, newest first, at most MAX_HEARABLE. */
export async function hearableSongs(db: Database, ownerId: string) {
  return await db
    .select({ songId: songs.id, title: songs.title, edition: songs.edition, arrangementId: arrangements.id })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .where(and(eq(songs.ownerId, ownerId), isThere, isNull(songs.archivedAt)))
    .orderBy(desc(songs.createdAt))
    .limit(MAX_HEARABLE)
}
const MAX_HEARABLE = 300

/** A song and its other editions, in the order they were made; only itself when there is no other. */
export async function editionsOf(db: Database, ownerId: string, song: { id: string; editionOf: string | null }) {
  const first = song.editionOf ?? song.id
  return await db
    .select({ id: songs.id, edition: songs.edition, title: songs.title })
    .from(songs)
    .where(
      and(
        eq(songs.ownerId, ownerId),
        isThere,
        or(eq(songs.id, first), eq(songs.editionOf, first)),
        or(isNull(songs.archivedAt), eq(songs.id, song.id)),
      ),
    )
    .orderBy(asc(songs.createdAt))
}

async function firstEditionOf(tx: Transaction, ownerId: string, songId: string): Promise<string | undefined> {
  const [song] = await tx
    .select({ id: songs.id, editionOf: songs.editionOf })
    .from(songs)
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return song?.editionOf ?? song?.id
}

export interface SongChange {
  role?: PracticeRole
  title?: string
  composer?: string
  edition?: string
  archived?: boolean
  targetDate?: string | null
  targetShare?: number
  proposal?: number
}

/** How long a deleted song can be brought back, days. */
export const DELETED_DAYS = 30

/**
 * Deletes a song: it is nowhere to be seen, can be brought back for some days, and goes for good after them. Gives
 * false when it is not there.
 */
export async function deleteSong(db: Database, ownerId: string, songId: string): Promise<boolean> {
  const rows = await db
    .update(songs)
    .set({ deletedAt: new Date() })
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId), isThere))
    .returning({ id: songs.id })
  return rows.length > 0
}

/** Restores a deleted song. Gives false when it was not deleted, or has been erased. */
export async function undeleteSong(db: Database, ownerId: string, songId: string): Promise<boolean> {
  const rows = await db
    .update(songs)
    .set({ deletedAt: null })
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId), isNotNull(songs.deletedAt)))
    .returning({ id: songs.id })
  return rows.length > 0
}

/** The songs that can still be brought back, the last deleted first, with how many passes would go with each. */
export async function deletedSongs(db: Database, ownerId: string) {
  return await db
    .select({
      id: songs.id,
      title: songs.title,
      edition: songs.edition,
      role: songs.role,
      deletedAt: songs.deletedAt,
      passes: sql<number>`(select coalesce(sum(${sums.passes}), 0)::int from ${sums} where ${sums.songId} = ${songs.id})`,
    })
    .from(songs)
    .where(and(eq(songs.ownerId, ownerId), isNotNull(songs.deletedAt)))
    .orderBy(desc(songs.deletedAt))
}

/**
 * Deletes a song for good with everything that was played of it, takes too. Other editions of it stay: the oldest of
 * them becomes the first. Gives false when it is not among the deleted ones.
 */
export async function eraseSong(db: Database, ownerId: string, songId: string): Promise<boolean> {
  return await db.transaction(async tx => {
    const own = and(eq(songs.ownerId, ownerId), eq(songs.id, songId), isNotNull(songs.deletedAt))
    const [song] = await tx.select({ id: songs.id }).from(songs).where(own).for('update')
    if (!song) return false
    const others = await tx
      .select({ id: songs.id })
      .from(songs)
      .where(eq(songs.editionOf, songId))
      .orderBy(asc(songs.createdAt), asc(songs.id))
    const [first, ...rest] = others.map(one => one.id)
    if (first) await tx.update(songs).set({ editionOf: null }).where(eq(songs.id, first))
    if (rest.length > 0) await tx.update(songs).set({ editionOf: first }).where(inArray(songs.id, rest))
    const its = (
      await tx
        .select({ id: passes.takeId })
        .from(passes)
        .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
        .where(eq(arrangements.songId, songId))
    ).map(one => one.id)
    await tx.delete(songs).where(own)
    // What was learned here may have counted elsewhere.
    await tx
      .delete(records)
      .where(inArray(records.songId, tx.select({ id: songs.id }).from(songs).where(eq(songs.ownerId, ownerId))))
    const FEW = 5_000
    for (let from = 0; from < its.length; from += FEW) {
      await tx
        .delete(takes)
        .where(
          and(
            inArray(takes.id, its.slice(from, from + FEW)),
            notExists(tx.select({ id: passes.id }).from(passes).where(eq(passes.takeId, takes.id))),
          ),
        )
    }
    return true
  })
}

/** The songs that were deleted before a moment: whose they are, and which. */
export async function songsDeletedBefore(db: Database, moment: Date): Promise<{ id: string; ownerId: string }[]> {
  return await db.select({ id: songs.id, ownerId: songs.ownerId }).from(songs).where(lt(songs.deletedAt, moment))
}

/** How many songs and drills a player has, revisions of them, and parts. */
export async function songCounts(db: Database, ownerId: string) {
  const [counts] = await db
    .select({
      songs: sql<number>`(count(distinct ${songs.id}) filter (where ${songs.role} <> 'drill'))::int`,
      drills: sql<number>`(count(distinct ${songs.id}) filter (where ${songs.role} = 'drill'))::int`,
      revisions: count(arrangements.id),
    })
    .from(songs)
    .innerJoin(arrangements, eq(arrangements.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), isThere))
  return counts!
}

/** A song of a player's, with the id of its newest arrangement. */
export async function songOfPlayer(db: Database, ownerId: string, songId: string) {
  const [row] = await db
    .select({ song: songs, arrangementId: arrangements.id })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId), isThere))
  return row
}

/** Changes a song's fields and goal; puts it away or takes it back. */
export async function updateSong(
  db: Database,
  ownerId: string,
  songId: string,
  { archived, ...fields }: SongChange,
): Promise<boolean> {
  const changed = await db
    .update(songs)
    .set({
      ...fields,
      ...(archived === undefined ? {} : { archivedAt: archived ? new Date() : null }),
    })
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
    .returning({ id: songs.id })
  return changed.length > 0
}
