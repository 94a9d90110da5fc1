import { and, asc, eq, inArray } from 'drizzle-orm'
import type { ScoreSpan } from '#core/music/passage'
import type { PartDraft } from '#core/parts/edit'
import type { OwnLikeness } from '#core/parts/likeness'
import type { Database } from '../connection'
import { arrangements, parts, songs } from '../schema'
import { isThere } from './songs'
import { lockSong, newestOf, newestRevision, type SaveRefusal } from './arrangements'

export const stretchOf = (row: { fromN: number; fromD: number; toN: number; toD: number }): ScoreSpan => ({
  from: { n: row.fromN, d: row.fromD },
  to: { n: row.toN, d: row.toD },
})

export type PartRow = typeof parts.$inferSelect

/** A part as the coach and the Workbench know it. */
export const draftOf = (part: PartRow) => ({
  id: part.id,
  name: part.name,
  ...(part.section === null ? {} : { section: part.section }),
  ...stretchOf(part),
})

/** The parts of an arrangement, in order. */
export const partsInOrder = async (db: Database, arrangementId: string): Promise<PartRow[]> =>
  await db.select().from(parts).where(eq(parts.arrangementId, arrangementId)).orderBy(asc(parts.place))

/** The parts of a song's newest arrangement, in order. */
export async function partNames(
  db: Database,
  ownerId: string,
  songId: string,
): Promise<{ id: string; name: string }[]> {
  return await db
    .select({ id: parts.id, name: parts.name })
    .from(songs)
    .innerJoin(arrangements, newestRevision)
    .innerJoin(parts, eq(parts.arrangementId, arrangements.id))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
    .orderBy(asc(parts.place))
}

/** What the Stand needs of a part: the part, its song and its arrangement. */
export async function partWithArrangement(db: Database, ownerId: string, partId: string) {
  const [row] = await db
    .select({ part: parts, arrangement: arrangements, song: songs })
    .from(parts)
    .innerJoin(arrangements, eq(arrangements.id, parts.arrangementId))
    .innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(and(eq(parts.ownerId, ownerId), eq(parts.id, partId), isThere))
  return row
}

/** Where a part lies, without the notes of its arrangement. */
export async function partOfPlayer(
  db: Database,
  ownerId: string,
  partId: string,
): Promise<{ id: string; name: string; stretch: ScoreSpan; arrangementId: string } | undefined> {
  const [part] = await db
    .select()
    .from(parts)
    .where(and(eq(parts.ownerId, ownerId), eq(parts.id, partId)))
  return part && { id: part.id, name: part.name, stretch: stretchOf(part), arrangementId: part.arrangementId }
}

export interface SavedPart extends PartDraft {
  ownLikeness?: OwnLikeness
}

/**
 * Puts a list of parts in the place of the song's parts, all or nothing. Parts that keep their id keep their passes.
 */
export async function replaceParts(
  db: Database,
  ownerId: string,
  arrangementId: string,
  drafts: readonly SavedPart[],
): Promise<SaveRefusal | undefined> {
  return await db.transaction(async tx => {
    const [arrangement] = await tx
      .select({ songId: arrangements.songId })
      .from(arrangements)
      .where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, arrangementId)))
    if (!arrangement) return 'missing'
    await lockSong(tx, arrangement.songId)
    if ((await newestOf(tx, arrangement.songId)) !== arrangementId) return 'stale'
    const known = new Set(
      (await tx.select({ id: parts.id }).from(parts).where(eq(parts.arrangementId, arrangementId))).map(
        part => part.id,
      ),
    )
    if (drafts.some(draft => draft.id !== undefined && !known.has(draft.id))) return 'stale'
    const kept = drafts.flatMap(draft => draft.id ?? [])
    const gone = [...known].filter(id => !kept.includes(id))
    if (gone.length > 0) await tx.delete(parts).where(inArray(parts.id, gone))
    for (const [place, { id, name, section, from, to, ownLikeness = {} }] of drafts.entries()) {
      const values = {
        place,
        name: name.trim(),
        section: section?.trim() ?? null,
        fromN: from.n,
        fromD: from.d,
        toN: to.n,
        toD: to.d,
        ownLikeness,
      }
      if (id === undefined) await tx.insert(parts).values({ ownerId, arrangementId, ...values })
      else await tx.update(parts).set(values).where(eq(parts.id, id))
    }
    return undefined
  })
}

/** The first part of an arrangement; null where it has none. */
export async function firstPartId(db: Database, ownerId: string, arrangementId: string): Promise<string | null> {
  const [part] = await db
    .select({ id: parts.id })
    .from(parts)
    .where(and(eq(parts.ownerId, ownerId), eq(parts.arrangementId, arrangementId)))
    .orderBy(parts.place)
    .limit(1)
  return part?.id ?? null
}
