import { and, eq, inArray, max, sql } from 'drizzle-orm'
import type { Database } from '../connection'
import { parts, songs, sums } from '../schema'

/**
 * Passes of the same notes by the same hands, wherever they stood: here, in a twin, in another edition or another song.
 */
export async function learnedByKey(db: Database, ownerId: string, keys: readonly string[], songId: string) {
  if (keys.length === 0) return []
  const rows = await db
    .select({
      key: sums.notesKey,
      partId: sums.partId,
      partName: parts.name,
      songId: songs.id,
      songTitle: songs.title,
      edition: songs.edition,
      passes: sql<number>`sum(${sums.passes})::int`,
      cleanBpm: max(sums.cleanBpm),
    })
    .from(sums)
    .innerJoin(songs, eq(songs.id, sums.songId))
    .leftJoin(parts, eq(parts.id, sums.partId))
    .where(and(eq(sums.ownerId, ownerId), inArray(sums.notesKey, [...new Set(keys)])))
    .groupBy(sums.notesKey, sums.partId, parts.name, songs.id)
  // What was learned in this song is named before what was learned elsewhere.
  return rows.sort((a, b) => Number(b.songId === songId) - Number(a.songId === songId))
}
