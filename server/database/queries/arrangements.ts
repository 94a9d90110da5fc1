import { and, asc, desc, eq, sql } from 'drizzle-orm'
import type { ScoreText } from '../../domain/score-text'
import type { Arrangement } from '#core/music/arrangement'
import type { Database, Transaction } from '../connection'
import { arrangements, parts, songs } from '../schema'

/** Joins a song to its newest arrangement. */
export const newestRevision = and(
  eq(arrangements.songId, songs.id),
  eq(
    arrangements.revision,
    sql`(select max(revision) from ${arrangements} as newest where newest.song_id = ${songs.id})`,
  ),
)

/** The newest arrangement of a song. */
export async function arrangementOfSong(db: Database, ownerId: string, songId: string) {
  const [row] = await db
    .select({ id: arrangements.id, document: arrangements.document })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return row
}

/** An arrangement's document as text, and where its parts lie. */
export async function arrangementForHearing(db: Database, ownerId: string, id: string) {
  const row = await arrangementText(db, ownerId, id)
  if (!row) return undefined
  const rows = await db.select().from(parts).where(eq(parts.arrangementId, id)).orderBy(asc(parts.place))
  return {
    document: row.document,
    parts: rows.map(part => ({
      id: part.id,
      name: part.name,
      from: { n: part.fromN, d: part.fromD },
      to: { n: part.toN, d: part.toD },
    })),
  }
}

/** A document as it is sent to the database: text that is not read on the way. */
export const documentOf = ({ document }: ScoreText) => sql<Arrangement>`${document}::jsonb`

/** The arrangement a change starts from, its document as text. */
export async function arrangementText(db: Database, ownerId: string, id: string) {
  const [row] = await db
    .select({
      revision: arrangements.revision,
      document: sql<string>`${arrangements.document}::text`,
      musicXml: arrangements.musicXml,
    })
    .from(arrangements)
    .where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, id)))
  return row
}

/** An arrangement, whole. */
export async function arrangementById(db: Database, ownerId: string, id: string) {
  const [row] = await db
    .select()
    .from(arrangements)
    .where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, id)))
  return row
}

/** The notes of an arrangement, of any player. */
export async function arrangementDocument(db: Database, id: string): Promise<Arrangement> {
  const [row] = await db.select({ document: arrangements.document }).from(arrangements).where(eq(arrangements.id, id))
  if (!row) throw new Error(`arrangement ${id} is gone`)
  return row.document
}

/** Why nothing was saved: the song or a part is not there, or somebody (another window) has saved since. */
export type SaveRefusal = 'missing' | 'stale'

/**
 * Saves a corrected arrangement as the song's next revision and takes the parts along; passes keep pointing to the
 * revision they were played in.
 */
export async function insertRevision(
  db: Database,
  ownerId: string,
  base: string,
  score: ScoreText,
): Promise<{ id: string; revision: number } | SaveRefusal> {
  return await db.transaction(async tx => {
    const [before] = await tx
      .select({ songId: arrangements.songId, revision: arrangements.revision })
      .from(arrangements)
      .where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, base)))
    if (!before) return 'missing'
    await lockSong(tx, before.songId)
    if ((await newestOf(tx, before.songId)) !== base) return 'stale'
    const revision = before.revision + 1
    const [saved] = await tx
      .insert(arrangements)
      .values({
        ownerId,
        songId: before.songId,
        revision,
        bars: score.bars,
        document: documentOf(score),
        musicXml: score.musicXml,
      })
      .returning({ id: arrangements.id })
    await tx.update(parts).set({ arrangementId: saved!.id }).where(eq(parts.arrangementId, base))
    return { id: saved!.id, revision }
  })
}

/** One save of a song at a time. */
export async function lockSong(tx: Transaction, songId: string) {
  await tx.select({ id: songs.id }).from(songs).where(eq(songs.id, songId)).for('update')
}

export async function newestOf(tx: Transaction, songId: string): Promise<string | undefined> {
  const [newest] = await tx
    .select({ id: arrangements.id })
    .from(arrangements)
    .where(eq(arrangements.songId, songId))
    .orderBy(desc(arrangements.revision))
    .limit(1)
  return newest?.id
}
