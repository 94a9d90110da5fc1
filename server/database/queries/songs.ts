import { and, asc, desc, eq, isNotNull, isNull, max, ne, or, sql, sum } from 'drizzle-orm'
import type { PracticeRole } from '#core/coach/session'
import { PROPOSAL, type ProposedPart } from '#core/parts/propose'
import type { SongOrigin } from '#shared/utils/origin'
import type { Database, Transaction } from '../../utils/database'
import { arrangements, parts, songs, sums } from '../schema'
import type { ScoreText } from '../../heavy/score-text'
import { documentOf, newestRevision } from './arrangements'

/** What is said of a new song: where it comes from, what it is in a day, and which song it is an edition of, with its name and proposal of parts. */
export interface NewSong { origin: SongOrigin, role?: PracticeRole, edition?: { of: string, name: string, proposal?: number } }

/** Keeps a song with its first arrangement and parts, all or nothing; as an edition beside another song where `edition` says so. Gives the song's id, undefined when that other song is not there. */
export async function insertSong(db: Database, ownerId: string, score: ScoreText, proposed: readonly ProposedPart[], { edition, origin, role }: NewSong): Promise<string | undefined> {
  return await db.transaction(async (tx) => {
    const first = edition ? await firstEditionOf(tx, ownerId, edition.of) : undefined
    if (edition && !first) return undefined
    const [song] = await tx.insert(songs).values({ ownerId, origin, role, proposal: edition?.proposal ?? PROPOSAL, title: score.title, composer: score.composer, ...(edition ? { editionOf: first, edition: edition.name } : {}) }).returning({ id: songs.id })
    const [saved] = await tx.insert(arrangements).values({ ownerId, songId: song!.id, revision: 1, bars: score.bars, document: documentOf(score), musicXml: score.musicXml }).returning({ id: arrangements.id })
    await tx.insert(parts).values(proposed.map(({ name, section, from, to }, place) => ({
      ownerId, arrangementId: saved!.id, place, name, section: section ?? null, fromN: from.n, fromD: from.d, toN: to.n, toD: to.d,
    })))
    return song!.id
  })
}

/** A player's songs and what they warm up with, the last practised first; those put away instead when `archived`, and their drills when `isDrills`. */
export async function listSongs(db: Database, ownerId: string, { archived = false, isDrills = false } = {}) {
  const practised = db.select({
    songId: sums.songId, passes: sum(sums.passes).as('passes'), lastPractised: max(sums.lastAt).as('last_practised'),
  }).from(sums).where(eq(sums.ownerId, ownerId)).groupBy(sums.songId).as('practised')
  return await db.select({
    id: songs.id, title: songs.title, composer: songs.composer, edition: songs.edition, role: songs.role, origin: songs.origin,
    bars: arrangements.bars,
    parts: sql<number>`(select count(*)::int from ${parts} where ${parts.arrangementId} = ${arrangements.id})`,
    passes: sql<number>`coalesce(${practised.passes}, 0)::int`,
    lastPractised: practised.lastPractised,
  }).from(songs)
    .innerJoin(arrangements, newestRevision)
    .leftJoin(practised, eq(practised.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), archived ? isNotNull(songs.archivedAt) : isNull(songs.archivedAt), isDrills ? eq(songs.role, 'drill') : ne(songs.role, 'drill')))
    .orderBy(sql`${practised.lastPractised} desc nulls last`, asc(songs.title))
}

/** A player's songs that are not put away, each with its newest arrangement by name: so many of the newest. */
export async function hearableSongs(db: Database, ownerId: string) {
  return await db.select({ songId: songs.id, title: songs.title, edition: songs.edition, arrangementId: arrangements.id }).from(songs)
    .innerJoin(arrangements, newestRevision).where(and(eq(songs.ownerId, ownerId), isNull(songs.archivedAt))).orderBy(desc(songs.createdAt)).limit(MOST_HEARABLE)
}
const MOST_HEARABLE = 300

/** A song and its other editions, in the order they were made; only itself when there is no other. */
export async function editionsOf(db: Database, ownerId: string, song: { id: string, editionOf: string | null }) {
  const first = song.editionOf ?? song.id
  return await db.select({ id: songs.id, edition: songs.edition, title: songs.title }).from(songs)
    .where(and(eq(songs.ownerId, ownerId), or(eq(songs.id, first), eq(songs.editionOf, first)), or(isNull(songs.archivedAt), eq(songs.id, song.id))))
    .orderBy(asc(songs.createdAt))
}

async function firstEditionOf(tx: Transaction, ownerId: string, songId: string): Promise<string | undefined> {
  const [song] = await tx.select({ id: songs.id, editionOf: songs.editionOf }).from(songs).where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return song?.editionOf ?? song?.id
}

export interface SongChange { role?: PracticeRole, title?: string, composer?: string, edition?: string, archived?: boolean, targetDate?: string | null, targetShare?: number, proposal?: number }

/** A song of a player's, with the id of its newest arrangement. */
export async function songOfPlayer(db: Database, ownerId: string, songId: string) {
  const [row] = await db.select({ song: songs, arrangementId: arrangements.id }).from(songs).innerJoin(arrangements, newestRevision).where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return row
}

/** Changes a song's fields and goal; puts it away or takes it back. */
export async function updateSong(db: Database, ownerId: string, songId: string, { archived, ...fields }: SongChange): Promise<boolean> {
  const changed = await db.update(songs).set({
    ...fields,
    ...(archived === undefined ? {} : { archivedAt: archived ? new Date() : null }),
  }).where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId))).returning({ id: songs.id })
  return changed.length > 0
}
