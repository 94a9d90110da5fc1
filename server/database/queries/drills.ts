import { and, desc, eq, inArray, isNull, ne, sql } from 'drizzle-orm'
import type { NoteAssessment } from '#core/ear/assessment'
import type { Database } from '../connection'
import { arrangements, assessments, passes, songs } from '../schema'
import { newestRevision } from './arrangements'
import { isThere } from './songs'

/** The notes of the newest pass in time of each of some songs, by song: what their evenness is heard from. */
export async function newestTimedNotes(
  db: Database,
  ownerId: string,
  songIds: readonly string[],
): Promise<Map<string, NoteAssessment[]>> {
  if (songIds.length === 0) return new Map()
  const newest = db
    .selectDistinctOn([arrangements.songId], { songId: arrangements.songId, passId: passes.id })
    .from(passes)
    .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
    .where(and(eq(passes.ownerId, ownerId), inArray(arrangements.songId, [...songIds]), ne(passes.mode, 'own-time')))
    .orderBy(arrangements.songId, desc(passes.startedAt))
    .as('newest')
  const rows = await db
    .select({ songId: newest.songId, document: assessments.document })
    .from(newest)
    .innerJoin(assessments, eq(assessments.passId, newest.passId))
  return new Map(rows.map(({ songId, document }) => [songId, document.notes]))
}

/** The signatures that the player's songs begin in, positive sharps, the most usual first. */
export async function songSignatures(db: Database, ownerId: string): Promise<number[]> {
  const fifths = sql<number>`(${arrangements.document} -> 'bars' -> 0 ->> 'fifths')::int`
  const rows = await db
    .select({ fifths })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .where(and(eq(songs.ownerId, ownerId), eq(songs.role, 'song'), isThere, isNull(songs.archivedAt)))
    .groupBy(fifths)
    .orderBy(desc(sql`count(*)`), fifths)
  return rows.map(row => row.fifths)
}
