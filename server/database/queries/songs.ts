import { and, asc, desc, eq, inArray, isNotNull, isNull, max, or, sql, sum } from 'drizzle-orm'
import type { ReadScore } from '#core/formats/musicxml/read'
import { tempoAt, type Arrangement, type Hands } from '#core/music/arrangement'
import { sectionRuns, type PartDraft } from '#core/parts/edit'
import { formOf, likenessOf, newMaterialShare, saidLikeness, type Likeness, type OwnLikeness } from '#core/parts/likeness'
import { notesKey } from '#core/parts/notes-key'
import { PROPOSAL, type ProposedPart } from '#core/parts/propose'
import { expectedNotes, stretchPassage, type Stretch } from '#core/music/passage'
import { describeStretch } from '#core/words/places'
import type { Database } from '../../utils/database'
import { arrangements, parts, songs, sums } from '../schema'

/** Keeps a song with its first arrangement and parts, all or nothing; as a version beside another song where `version` says so. Gives the song's id, undefined when that other song is not there. */
export async function insertSong(db: Database, ownerId: string, score: ReadScore, proposed: readonly ProposedPart[], version?: { of: string, edition: string, proposal?: number }): Promise<string | undefined> {
  const { arrangement, musicXml } = score
  return await db.transaction(async (tx) => {
    const first = version ? await firstVersionOf(tx, ownerId, version.of) : undefined
    if (version && !first) return undefined
    const [song] = await tx.insert(songs).values({ ownerId, proposal: version?.proposal ?? PROPOSAL, title: arrangement.title, composer: arrangement.composer, ...(version ? { versionOf: first, edition: version.edition } : {}) }).returning({ id: songs.id })
    const [saved] = await tx.insert(arrangements).values({ ownerId, songId: song!.id, version: 1, bars: arrangement.bars.length, document: arrangement, musicXml }).returning({ id: arrangements.id })
    await tx.insert(parts).values(proposed.map(({ name, section, from, to }, place) => ({
      ownerId, arrangementId: saved!.id, place, name, section: section ?? null, fromN: from.n, fromD: from.d, toN: to.n, toD: to.d,
    })))
    return song!.id
  })
}

/** A player's songs, the last practised first; those put away instead when `archived`. */
export async function listSongs(db: Database, ownerId: string, archived = false) {
  const practised = db.select({
    songId: sums.songId, passes: sum(sums.passes).as('passes'), lastPractised: max(sums.lastAt).as('last_practised'),
  }).from(sums).where(eq(sums.ownerId, ownerId)).groupBy(sums.songId).as('practised')
  return await db.select({
    id: songs.id, title: songs.title, composer: songs.composer, edition: songs.edition,
    bars: arrangements.bars,
    parts: sql<number>`(select count(*)::int from ${parts} where ${parts.arrangementId} = ${arrangements.id})`,
    passes: sql<number>`coalesce(${practised.passes}, 0)::int`,
    lastPractised: practised.lastPractised,
  }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .leftJoin(practised, eq(practised.songId, songs.id))
    .where(and(eq(songs.ownerId, ownerId), archived ? isNotNull(songs.archivedAt) : isNull(songs.archivedAt)))
    .orderBy(sql`${practised.lastPractised} desc nulls last`, asc(songs.title))
}

export const latestVersion = sql`(select max(version) from ${arrangements} as newest where newest.song_id = ${songs.id})`

/** A song with the parts of its newest arrangement, what each is like, and what was learned of it elsewhere. How far each hand has come is the coach's to say. */
export async function songWithParts(db: Database, ownerId: string, songId: string) {
  const [row] = await db.select({ song: songs, arrangementId: arrangements.id, document: arrangements.document })
    .from(songs).innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  if (!row) return undefined
  const { document } = row
  const itsParts = await db.select().from(parts).where(eq(parts.arrangementId, row.arrangementId)).orderBy(asc(parts.place))
  const named = itsParts.map(part => ({ name: part.name, ...stretchOf(part) }))
  const likeness = partsLikeness(document, itsParts)
  const shown = ({ relation, like, covers, transposedBy, stepsInKey, differs }: Likeness) => ({ relation, like, covers, transposedBy, stepsInKey, differs })
  const keys = itsParts.map(part => Object.fromEntries((['right', 'left', 'both'] as const).map(hands => [hands, notesKey(document, stretchOf(part), hands)])) as Record<Hands, string>)
  const versions = await versionsOf(db, ownerId, row.song)
  const learned = await learnedByKey(db, ownerId, keys.flatMap(one => Object.values(one)), songId)
  const learnedWhere = ({ songId: other, partName, edition, songTitle }: (typeof learned)[number]) =>
    other === songId ? partName : `${partName} (${versions.some(version => version.id === other) ? edition || 'first version' : songTitle})`
  return {
    id: row.song.id, title: row.song.title, composer: row.song.composer, arrangementId: row.arrangementId, archived: row.song.archivedAt !== null, edition: row.song.edition,
    targetDate: row.song.targetDate, targetShare: row.song.targetShare, versions,
    sections: sectionRuns(itsParts.map(({ section }) => section === null ? {} : { section })).flatMap(({ name }) => name ?? []),
    form: formOf(named, likeness.right, likeness.left),
    newMaterialShare: { right: newMaterialShare(likeness.right), left: newMaterialShare(likeness.left) },
    bars: document.bars.length, firstBar: document.bars[0]!.number, lastBar: document.bars.at(-1)!.number, targetBpm: tempoAt(document, document.bars[0]!.start),
    meter: document.bars[0]!.meter,
    fifths: document.bars[0]!.fifths,
    warnings: document.warnings,
    parts: itsParts.map((part, place) => {
      const stretch = stretchOf(part)
      return {
        id: part.id, name: part.name, section: part.section, place: describeStretch(document, stretch),
        likeness: { right: shown(likeness.right[place]!), left: shown(likeness.left[place]!) },
        targetBpm: Math.round(tempoAt(document, stretch.from) * row.song.targetShare),
        notes: {
          right: expectedNotes(document, stretchPassage(stretch.from, stretch.to, 'right')).length,
          left: expectedNotes(document, stretchPassage(stretch.from, stretch.to, 'left')).length,
        },
        reached: (['right', 'left', 'both'] as const).map((hands) => {
          const some = learned.filter(one => one.key === keys[place]![hands])
          const own = some.filter(one => one.partId === part.id)
          const best = (rows: typeof some) => rows.reduce<(typeof some)[number] | undefined>((most, one) => (one.cleanBpm ?? 0) > (most?.cleanBpm ?? 0) ? one : most, undefined)
          const [here, anywhere] = [best(own), best(some)]
          return {
            hands, key: keys[place]![hands], passes: own.reduce((sum, one) => sum + one.passes, 0), cleanBpm: anywhere?.cleanBpm ?? null,
            ...(anywhere && (anywhere.cleanBpm ?? 0) > (here?.cleanBpm ?? 0) ? { from: learnedWhere(anywhere) } : {}),
          }
        }),
      }
    }),
  }
}

/** Passes of the same notes by the same hands, wherever they stood: here, in a twin, in another version or another song. */
async function learnedByKey(db: Database, ownerId: string, keys: readonly string[], songId: string) {
  if (keys.length === 0) return []
  const rows = await db.select({
    key: sums.notesKey, partId: sums.partId, partName: sql<string>`coalesce(${parts.name}, 'a part that is gone')`, songId: songs.id, songTitle: songs.title, edition: songs.edition,
    passes: sql<number>`sum(${sums.passes})::int`, cleanBpm: max(sums.cleanBpm),
  }).from(sums).innerJoin(songs, eq(songs.id, sums.songId)).leftJoin(parts, eq(parts.id, sums.partId))
    .where(and(eq(sums.ownerId, ownerId), inArray(sums.notesKey, [...new Set(keys)]))).groupBy(sums.notesKey, sums.partId, parts.name, songs.id)
  // What was learned in this song is named before what was learned elsewhere.
  return rows.sort((a, b) => Number(b.songId === songId) - Number(a.songId === songId))
}

/** A song and its other versions, in the order they were made; only itself when there is no other. */
async function versionsOf(db: Database, ownerId: string, song: { id: string, versionOf: string | null }) {
  const first = song.versionOf ?? song.id
  return await db.select({ id: songs.id, edition: songs.edition, title: songs.title }).from(songs)
    .where(and(eq(songs.ownerId, ownerId), or(eq(songs.id, first), eq(songs.versionOf, first)), or(isNull(songs.archivedAt), eq(songs.id, song.id))))
    .orderBy(asc(songs.createdAt))
}

async function firstVersionOf(tx: Transaction, ownerId: string, songId: string): Promise<string | undefined> {
  const [song] = await tx.select({ id: songs.id, versionOf: songs.versionOf }).from(songs).where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return song?.versionOf ?? song?.id
}

/** Another version of a song, to be changed: its newest arrangement and parts as a song of their own. Gives its id. */
export async function copyAsVersion(db: Database, ownerId: string, songId: string, edition: string): Promise<string | undefined> {
  const song = await songForWork(db, ownerId, songId)
  if (!song) return undefined
  const score = { arrangement: { ...song.arrangement, title: song.title }, musicXml: song.musicXml }
  return await insertSong(db, ownerId, score, song.parts.map(({ name, section, from, to }) => ({ name, section, from, to })), { of: songId, edition, proposal: song.proposal })
}

/** The newest arrangement of a song. */
export async function arrangementOfSong(db: Database, ownerId: string, songId: string) {
  const [row] = await db.select({ id: arrangements.id, document: arrangements.document }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  return row
}

/** The parts of a song's newest arrangement, in order. */
export async function partNames(db: Database, ownerId: string, songId: string): Promise<{ id: string, name: string }[]> {
  return await db.select({ id: parts.id, name: parts.name }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion))).innerJoin(parts, eq(parts.arrangementId, arrangements.id))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId))).orderBy(asc(parts.place))
}

/** What the Stand needs of a part: the part, its song and its arrangement. */
export async function partWithArrangement(db: Database, ownerId: string, partId: string) {
  const [row] = await db.select({ part: parts, arrangement: arrangements, song: songs }).from(parts)
    .innerJoin(arrangements, eq(arrangements.id, parts.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(and(eq(parts.ownerId, ownerId), eq(parts.id, partId)))
  return row
}

export interface SongChange { title?: string, composer?: string, edition?: string, archived?: boolean, targetDate?: string | null, targetShare?: number, proposal?: number }

/** Changes a song's fields and goal; puts it away or takes it back. */
export async function updateSong(db: Database, ownerId: string, songId: string, { archived, ...fields }: SongChange): Promise<boolean> {
  const changed = await db.update(songs).set({
    ...fields,
    ...(archived === undefined ? {} : { archivedAt: archived ? new Date() : null }),
  }).where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId))).returning({ id: songs.id })
  return changed.length > 0
}

/** What the Workbench needs of a song: its newest arrangement, engraved, and its parts as drafts. */
export async function songForWork(db: Database, ownerId: string, songId: string) {
  const [row] = await db.select({ song: songs, arrangement: arrangements }).from(songs)
    .innerJoin(arrangements, and(eq(arrangements.songId, songs.id), eq(arrangements.version, latestVersion)))
    .where(and(eq(songs.ownerId, ownerId), eq(songs.id, songId)))
  if (!row) return undefined
  const itsParts = await db.select().from(parts).where(eq(parts.arrangementId, row.arrangement.id)).orderBy(asc(parts.place))
  return {
    id: row.song.id, title: row.song.title, arrangementId: row.arrangement.id, version: row.arrangement.version,
    arrangement: row.arrangement.document, musicXml: row.arrangement.musicXml,
    proposal: row.song.proposal,
    parts: itsParts.map(part => ({ id: part.id, name: part.name, ...(part.section === null ? {} : { section: part.section }), ...stretchOf(part), ownLikeness: part.ownLikeness })),
  }
}

export interface SavedPart extends PartDraft { ownLikeness?: OwnLikeness }

/** Why nothing was saved: the song or a part is not there, or somebody (another window) has saved since. */
export type SaveRefusal = 'missing' | 'stale'

/** Puts a list of parts in the place of the song's parts, all or nothing. Parts that keep their id keep their passes. */
export async function replaceParts(db: Database, ownerId: string, arrangementId: string, drafts: readonly SavedPart[]): Promise<SaveRefusal | undefined> {
  return await db.transaction(async (tx) => {
    const [arrangement] = await tx.select({ songId: arrangements.songId }).from(arrangements).where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, arrangementId)))
    if (!arrangement) return 'missing'
    await lockSong(tx, arrangement.songId)
    if (await newestOf(tx, arrangement.songId) !== arrangementId) return 'stale'
    const known = new Set((await tx.select({ id: parts.id }).from(parts).where(eq(parts.arrangementId, arrangementId))).map(part => part.id))
    if (drafts.some(draft => draft.id !== undefined && !known.has(draft.id))) return 'stale'
    const kept = drafts.flatMap(draft => draft.id ?? [])
    const gone = [...known].filter(id => !kept.includes(id))
    if (gone.length > 0) await tx.delete(parts).where(inArray(parts.id, gone))
    for (const [place, { id, name, section, from, to, ownLikeness = {} }] of drafts.entries()) {
      const values = { place, name: name.trim(), section: section?.trim() ?? null, fromN: from.n, fromD: from.d, toN: to.n, toD: to.d, ownLikeness }
      if (id === undefined) await tx.insert(parts).values({ ownerId, arrangementId, ...values })
      else await tx.update(parts).set(values).where(eq(parts.id, id))
    }
    return undefined
  })
}

/**
 * Saves a corrected arrangement as the song's next version and takes the parts along; passes keep pointing to the version they were played
 * in.
 */
export async function insertVersion(db: Database, ownerId: string, base: string, score: ReadScore): Promise<{ id: string, version: number } | SaveRefusal> {
  return await db.transaction(async (tx) => {
    const [before] = await tx.select({ songId: arrangements.songId, version: arrangements.version }).from(arrangements).where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, base)))
    if (!before) return 'missing'
    await lockSong(tx, before.songId)
    if (await newestOf(tx, before.songId) !== base) return 'stale'
    const { arrangement, musicXml } = score
    const version = before.version + 1
    const [saved] = await tx.insert(arrangements).values({ ownerId, songId: before.songId, version, bars: arrangement.bars.length, document: arrangement, musicXml }).returning({ id: arrangements.id })
    await tx.update(parts).set({ arrangementId: saved!.id }).where(eq(parts.arrangementId, base))
    return { id: saved!.id, version }
  })
}

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0]

/** One save of a song at a time. */
async function lockSong(tx: Transaction, songId: string) {
  await tx.select({ id: songs.id }).from(songs).where(eq(songs.id, songId)).for('update')
}

async function newestOf(tx: Transaction, songId: string): Promise<string | undefined> {
  const [newest] = await tx.select({ id: arrangements.id }).from(arrangements).where(eq(arrangements.songId, songId)).orderBy(desc(arrangements.version)).limit(1)
  return newest?.id
}

/** The arrangement a change starts from, whole. */
export async function arrangementById(db: Database, ownerId: string, id: string) {
  const [row] = await db.select().from(arrangements).where(and(eq(arrangements.ownerId, ownerId), eq(arrangements.id, id)))
  return row
}

function partsLikeness(document: Arrangement, rows: readonly (typeof parts.$inferSelect)[]) {
  const named = rows.map(part => ({ name: part.name, ...stretchOf(part) }))
  return { right: likenessOf(document, named, 'right', saidLikeness(rows, 'right')), left: likenessOf(document, named, 'left', saidLikeness(rows, 'left')) }
}

export const stretchOf = (row: { fromN: number, fromD: number, toN: number, toD: number }): Stretch =>
  ({ from: { n: row.fromN, d: row.fromD }, to: { n: row.toN, d: row.toD } })

/** The first part of an arrangement; null where it has none. */
export async function firstPartId(db: Database, ownerId: string, arrangementId: string): Promise<string | null> {
  const [part] = await db.select({ id: parts.id }).from(parts).where(and(eq(parts.ownerId, ownerId), eq(parts.arrangementId, arrangementId))).orderBy(parts.place).limit(1)
  return part?.id ?? null
}
