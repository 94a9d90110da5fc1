import { and, asc, eq, gt, inArray, isNull, min, or, sql } from 'drizzle-orm'
import type { ArchivedPass, ArchivedSong } from '#core/archive/archive'
import type { Database, Transaction } from '../connection'
import { accounts, arrangements, assessments, days, parts, passes, patterns, records, songs, takes } from '../schema'

type Reader = Database | Transaction

/** What archives call a row: by its own id, or as the archive did that it came from. */
const songName = sql<string>`coalesce(${songs.archiveId}, ${songs.id})`
const partName = sql<string>`coalesce(${parts.archiveId}, ${parts.id})`
const passName = sql<string>`coalesce(${passes.archiveId}, ${passes.id})`

/**
 * A player's songs in the order in which archives have them: first editions first, then by when they came. Of all, or
 * of one song and its other editions that are there.
 */
export async function songsToArchive(db: Reader, ownerId: string, family?: string) {
  const root = sql`(select coalesce(own.edition_of, own.id) from ${songs} own where own.id = ${family ?? null} and own.owner_id = ${ownerId})`
  return await db
    .select({ song: songs, name: songName })
    .from(songs)
    .where(
      and(
        eq(songs.ownerId, ownerId),
        family === undefined
          ? undefined
          : and(isNull(songs.deletedAt), or(eq(songs.id, root), eq(songs.editionOf, root))),
      ),
    )
    .orderBy(sql`${songs.editionOf} is not null`, sql`date_trunc('milliseconds', ${songs.createdAt})`, songName)
}

/** The revisions of a song by number, without their notes. */
export async function revisionsToArchive(db: Reader, songId: string) {
  return await db
    .select({
      id: arrangements.id,
      revision: arrangements.revision,
      bars: arrangements.bars,
      createdAt: arrangements.createdAt,
    })
    .from(arrangements)
    .where(eq(arrangements.songId, songId))
    .orderBy(asc(arrangements.revision))
}

/** A revision's documents as text. */
export async function revisionTexts(db: Reader, id: string): Promise<{ document: string; musicXml: string }> {
  const [row] = await db
    .select({ document: sql<string>`${arrangements.document}::text`, musicXml: arrangements.musicXml })
    .from(arrangements)
    .where(eq(arrangements.id, id))
  return row!
}

/** The parts of a song's revisions, in order, each with what archives call it. */
export async function partsToArchive(db: Reader, songId: string) {
  return await db
    .select({ part: parts, name: partName })
    .from(parts)
    .innerJoin(arrangements, eq(arrangements.id, parts.arrangementId))
    .where(eq(arrangements.songId, songId))
    .orderBy(asc(parts.place), partName)
}

export async function patternsToArchive(db: Reader, ownerId: string) {
  return await db
    .select({
      id: sql<string>`coalesce(${patterns.archiveId}, ${patterns.id})`,
      pattern: patterns.document,
      createdAt: patterns.createdAt,
    })
    .from(patterns)
    .where(eq(patterns.ownerId, ownerId))
    .orderBy(sql`date_trunc('milliseconds', ${patterns.createdAt})`, sql`1`)
}

export async function daysToArchive(db: Reader, ownerId: string) {
  return await db
    .select({ day: days.day, minutes: days.minutes, skipped: days.skipped, note: days.note })
    .from(days)
    .where(eq(days.ownerId, ownerId))
    .orderBy(asc(days.day))
}

export async function countPasses(db: Reader, ownerId: string): Promise<number> {
  const [row] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(passes)
    .where(eq(passes.ownerId, ownerId))
  return row!.count
}

/** Passes read at once. */
const PAGE = 100

/**
 * A player's passes in the order in which they were kept, some at a time, each with its take and its assessment as
 * text.
 */
export async function* passesToArchive(db: Reader, ownerId: string) {
  for (let after = 0; ;) {
    // The page's ids are selected first, so that related rows are looked up for these alone.
    const rows = await db
      .select()
      .from(passes)
      .where(and(eq(passes.ownerId, ownerId), gt(passes.ordinal, after)))
      .orderBy(asc(passes.ordinal))
      .limit(PAGE)
    const ids = rows.map(row => row.id)
    const beside =
      ids.length === 0
        ? []
        : await db
            .select({
              passId: passes.id,
              id: passName,
              song: songName,
              revision: arrangements.revision,
              part: sql<string | null>`coalesce(${parts.archiveId}, ${parts.id})`,
              assessment: sql<string>`${assessments.document}::text`,
              midi: takes.midi,
            })
            .from(passes)
            .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
            .innerJoin(songs, eq(songs.id, arrangements.songId))
            .innerJoin(assessments, eq(assessments.passId, passes.id))
            .innerJoin(takes, eq(takes.id, passes.takeId))
            .leftJoin(parts, eq(parts.id, passes.partId))
            .where(inArray(passes.id, ids))
    const found = new Map(beside.map(one => [one.passId, one]))
    const page = rows.map(pass => ({ pass, ...found.get(pass.id)! }))
    yield* page
    if (page.length < PAGE) return
    after = page.at(-1)!.pass.ordinal
  }
}
export type PassToArchive = ReturnType<typeof passesToArchive> extends AsyncGenerator<infer Row> ? Row : never

/** What a player has already of what archives may bring: by what archives call it, its id here. */
export async function knownNames(
  tx: Transaction,
  ownerId: string,
): Promise<{
  songs: Map<string, string>
  parts: Map<string, string>
  patterns: Map<string, string>
  passes: Set<string>
}> {
  const map = (rows: { name: string; id: string }[]) => new Map(rows.map(({ name, id }) => [name, id]))
  return {
    songs: map(await tx.select({ name: songName, id: songs.id }).from(songs).where(eq(songs.ownerId, ownerId))),
    parts: map(await tx.select({ name: partName, id: parts.id }).from(parts).where(eq(parts.ownerId, ownerId))),
    patterns: map(
      await tx
        .select({ name: sql<string>`coalesce(${patterns.archiveId}, ${patterns.id})`, id: patterns.id })
        .from(patterns)
        .where(eq(patterns.ownerId, ownerId)),
    ),
    passes: new Set(
      (await tx.select({ name: passName }).from(passes).where(eq(passes.ownerId, ownerId))).map(row => row.name),
    ),
  }
}

/** Locks the account against another restore. Gives false when one is under way. */
export async function beginRestoring(tx: Transaction, ownerId: string): Promise<boolean> {
  const { rows } = await tx.execute<{ free: boolean }>(
    sql`select pg_try_advisory_xact_lock(hashtextextended(${ownerId}, 20)) as free`,
  )
  return rows[0]!.free
}

/** Stops the counting of a player's passes until the transaction ends, and gives how many were kept so far. */
export async function lockCount(tx: Transaction, ownerId: string): Promise<number> {
  const [row] = await tx
    .select({ kept: accounts.passesKept })
    .from(accounts)
    .where(eq(accounts.id, ownerId))
    .for('update')
  return row!.kept
}

export async function setCount(tx: Transaction, ownerId: string, passesKept: number): Promise<void> {
  await tx.update(accounts).set({ passesKept }).where(eq(accounts.id, ownerId))
}

type SongRow = Omit<ArchivedSong, 'id' | 'revisions' | 'parts' | 'createdAt' | 'archivedAt' | 'deletedAt'> & {
  id: string
  archiveId: string
  createdAt: Date
  archivedAt: Date | null
  deletedAt: Date | null
}
export async function insertArchivedSong(tx: Transaction, ownerId: string, song: SongRow): Promise<void> {
  await tx.insert(songs).values({ ownerId, ...song })
}

/** The revision of a song that has these notes; undefined when none has. */
export async function revisionLike(tx: Transaction, songId: string, document: string): Promise<string | undefined> {
  const [row] = await tx
    .select({ id: arrangements.id })
    .from(arrangements)
    .where(and(eq(arrangements.songId, songId), sql`${arrangements.document} = ${document}::jsonb`))
    .limit(1)
  return row?.id
}

/** Keeps a revision under its number; where another one has that, as an older one. */
export async function insertArchivedRevision(
  tx: Transaction,
  row: { id: string; ownerId: string; songId: string; revision: number; bars: number; createdAt: Date },
  { document, musicXml }: { document: string; musicXml: string },
): Promise<void> {
  const [taken] = await tx
    .select({ id: arrangements.id })
    .from(arrangements)
    .where(and(eq(arrangements.songId, row.songId), eq(arrangements.revision, row.revision)))
  const [oldest] = taken
    ? await tx
        .select({ revision: min(arrangements.revision) })
        .from(arrangements)
        .where(eq(arrangements.songId, row.songId))
    : []
  const revision = oldest ? oldest.revision! - 1 : row.revision
  await tx.insert(arrangements).values({ ...row, revision, document: sql`${document}::jsonb`, musicXml })
}

/** Gives the newest revision all parts of a song. */
export async function moveParts(tx: Transaction, songId: string, arrangementId: string): Promise<void> {
  await tx
    .update(parts)
    .set({ arrangementId })
    .where(
      inArray(
        parts.arrangementId,
        tx.select({ id: arrangements.id }).from(arrangements).where(eq(arrangements.songId, songId)),
      ),
    )
}

/** Keeps the parts of an archived revision: those that are there are as they were there, new ones are added. */
export async function upsertArchivedParts(
  tx: Transaction,
  rows: (typeof parts.$inferInsert & { id: string })[],
): Promise<void> {
  for (const { id, ...row } of rows)
    await tx
      .insert(parts)
      .values({ id, ...row })
      .onConflictDoUpdate({ target: parts.id, set: row })
}

export async function insertArchivedPattern(tx: Transaction, row: typeof patterns.$inferInsert): Promise<void> {
  await tx.insert(patterns).values(row)
}

/** Keeps days of which nothing is known here. */
export async function insertArchivedDays(
  tx: Transaction,
  ownerId: string,
  rows: Omit<typeof days.$inferInsert, 'ownerId'>[],
): Promise<number> {
  let kept = 0
  for (let from = 0; from < rows.length; from += 500) {
    const some = await tx
      .insert(days)
      .values(rows.slice(from, from + 500).map(row => ({ ...row, ownerId })))
      .onConflictDoNothing()
      .returning({ day: days.day })
    kept += some.length
  }
  return kept
}

/** A pass out of an archive, as it is kept here. */
export interface PassRow extends Omit<
  ArchivedPass,
  'assessment' | 'song' | 'revision' | 'part' | 'from' | 'to' | 'startedAt' | 'savedAt'
> {
  archiveId: string
  arrangementId: string
  partId: string | null
  fromN: number
  fromD: number
  toN: number
  toD: number
  startedAt: Date
  savedAt: Date
  ordinal: number
  takeId: string
}

/** Keeps passes with their takes and assessments, in three statements. */
export async function insertArchivedPasses(
  tx: Transaction,
  ownerId: string,
  rows: readonly { row: PassRow; midi: Uint8Array; assessment: string }[],
): Promise<void> {
  if (rows.length === 0) return
  await tx
    .insert(takes)
    .values(rows.map(({ row, midi }) => ({ id: row.takeId, ownerId, midi: Buffer.from(midi), createdAt: row.savedAt })))
  await tx.insert(passes).values(rows.map(({ row }) => ({ ...row, ownerId })))
  await tx
    .insert(assessments)
    .values(rows.map(({ row, assessment }) => ({ passId: row.id, ownerId, document: sql`${assessment}::jsonb` })))
}

/** Deletes a player's records; they are computed again when next asked for. */
export async function forgetRecords(tx: Transaction, ownerId: string): Promise<void> {
  await tx
    .delete(records)
    .where(inArray(records.songId, tx.select({ id: songs.id }).from(songs).where(eq(songs.ownerId, ownerId))))
}
