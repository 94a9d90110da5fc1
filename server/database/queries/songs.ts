import { and, asc, count, eq, isNull, max, sql } from 'drizzle-orm'
import type { ReadScore } from '#core/formats/musicxml/read'
import { tempoAt } from '#core/music/arrangement'
import { formOf, likenessOf, newMaterialShare, type Likeness } from '#core/parts/likeness'
import type { ProposedPart } from '#core/parts/propose'
import { describeStretch, expectedNotes, stretchPassage, type Stretch } from '#core/music/passage'
import type { Database } from '../../utils/database'
import { arrangements, parts, passes, songs } from '../schema'

/** Keeps a song with its first arrangement and parts, all or nothing. Gives the song's id. */
export async function insertSong(db: Database, ownerId: string, score: ReadScore, proposed: ProposedPart[]): Promise<string> {
  const { arrangement, musicXml } = score
  return await db.transaction(async (tx) => {
    const [song] = await tx.insert(songs).values({ ownerId, title: arrangement.title, composer: arrangement.composer }).returning({ id: songs.id })
    const [saved] = await tx.insert(arrangements).values({ ownerId, songId: song!.id, version: 1, bars: arrangement.bars.length, document: arrangement, musicXml }).returning({ id: arrangements.id })
    await tx.insert(parts).values(proposed.map(({ name, from, to }, place) => ({
      ownerId, arrangementId: saved!.id, place, name, fromN: from.n, fromD: from.d, toN: to.n, toD: to.d,
    })))
    return song!.id
  })
}

export async function listSongs(db: Database, ownerId: string) {
  const practised = db.select({
    arrangementId: passes.arrangementId, passes: count().as('passes'), lastPractised: max(passes.startedAt).as('last_practised'),
  }).from(passes).where(eq(passes.ownerId, ownerId)).groupBy(passes.arrangementId).as('practised')
  return await db.select({
    id: songs.id, title: songs.title, composer: songs.composer,
    bars: arrangements.bars,
    parts: sql<number>`(select count(*)::int from ${parts} where ${parts.arrangementId} = ${arrangements.id})`,
    passes: sql<number>`coalesce(${practised.passes}, 0)::int`,
    lastPractised: practised.lastPractised,
  }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .leftJoin(practised, eq(practised.arrangementId, arrangements.id))
    .where(and(eq(songs.ownerId, ownerId), isNull(songs.archivedAt)))
    .orderBy(sql`${practised.lastPractised} desc nulls last`, asc(songs.title))
}

const latestVersion = sql`(select max(version) from ${arrangements} as newest where newest.song_id = ${songs.id})`

/** A song with the parts of its newest arrangement and how far each hand has come in them. */
export async function songWithParts(db: Database, ownerId: string, songId: string) {
  const [row] = await db.select({ song: songs, arrangementId: arrangements.id, document: arrangements.document })
    .from(songs).innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  if (!row) return undefined
  const { document } = row
  const itsParts = await db.select().from(parts).where(eq(parts.arrangementId, row.arrangementId)).orderBy(asc(parts.place))
  const reached = await db.select({
    partId: passes.partId, hands: passes.hands, passes: count(),
    cleanBpm: sql<number | null>`max(${passes.bpm}) filter (where ${passes.clean})`,
  }).from(passes).where(and(eq(passes.ownerId, ownerId), eq(passes.arrangementId, row.arrangementId))).groupBy(passes.partId, passes.hands)
  const named = itsParts.map(part => ({ name: part.name, ...stretchOf(part) }))
  const likeness = { right: likenessOf(document, named, 'right'), left: likenessOf(document, named, 'left') }
  const shown = ({ relation, like, transposedBy, stepsInKey, differs }: Likeness) => ({ relation, like, transposedBy, stepsInKey, differs: differs.map(one => one.text) })
  return {
    id: row.song.id, title: row.song.title, composer: row.song.composer, arrangementId: row.arrangementId,
    form: formOf(named, likeness.right, likeness.left),
    newMaterialShare: { right: newMaterialShare(likeness.right), left: newMaterialShare(likeness.left) },
    bars: document.bars.length,
    meter: document.bars[0]!.meter,
    fifths: document.bars[0]!.fifths,
    warnings: document.warnings,
    parts: itsParts.map((part, place) => {
      const stretch = stretchOf(part)
      return {
        id: part.id, name: part.name, place: describeStretch(document, stretch),
        likeness: { right: shown(likeness.right[place]!), left: shown(likeness.left[place]!) },
        targetBpm: tempoAt(document, stretch.from),
        notes: {
          right: expectedNotes(document, stretchPassage(stretch.from, stretch.to, 'right')).length,
          left: expectedNotes(document, stretchPassage(stretch.from, stretch.to, 'left')).length,
        },
        reached: reached.filter(one => one.partId === part.id).map(({ hands, passes: played, cleanBpm }) => ({ hands, passes: played, cleanBpm })),
      }
    }),
  }
}

/** The newest arrangement of a song. */
export async function arrangementOfSong(db: Database, ownerId: string, songId: string) {
  const [row] = await db.select({ id: arrangements.id, document: arrangements.document }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return row
}

/** What the Stand needs of a part: the part, its song and its arrangement. */
export async function partWithArrangement(db: Database, ownerId: string, partId: string) {
  const [row] = await db.select({ part: parts, arrangement: arrangements, song: songs }).from(parts)
    .innerJoin(arrangements, eq(arrangements.id, parts.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(and(eq(parts.ownerId, ownerId), eq(parts.id, partId)))
  return row
}

export async function removeSong(db: Database, ownerId: string, songId: string): Promise<boolean> {
  const removed = await db.update(songs).set({ archivedAt: new Date() })
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId), isNull(songs.archivedAt))).returning({ id: songs.id })
  return removed.length > 0
}

export const stretchOf = (row: { fromN: number, fromD: number, toN: number, toD: number }): Stretch =>
  ({ from: { n: row.fromN, d: row.fromD }, to: { n: row.toN, d: row.toD } })
