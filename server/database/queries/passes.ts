import { randomUUID } from 'node:crypto'
import { and, desc, eq, getTableColumns, inArray, lt, sql, type SQL } from 'drizzle-orm'
import type { Assessment } from '#core/ear/assessment'
import type { Database } from '../connection'
import {
  accounts,
  arrangements,
  assessments,
  passes,
  records,
  songs,
  takes,
  type JudgedColumns,
  type JudgedPass,
} from '../schema'
import { newestFirst, passesWhere, type LogbookFilter } from './logbook'
import { databaseCode } from '../errors'
import { remakeSumsOf, summed } from './sums'

/**
 * Keeps a pass with its take and assessment, and counts it, all or nothing and in one statement: a server's passes are
 * bounded by how often it has to ask. A pass that is there already is left as it is. Gives false when the id belongs to
 * another player's pass.
 */
export async function insertPass(db: Database, judged: JudgedPass): Promise<boolean> {
  const { id, ownerId } = judged.pass
  try {
    const { rowCount } = await db.execute(keeping(judged))
    if (rowCount === 1) return true
  } catch (error) {
    // Sent twice at the same moment: the other one has kept it.
    if (databaseCode(error) !== UNIQUE_VIOLATION) throw error
  }
  const [kept] = await db.select({ ownerId: passes.ownerId }).from(passes).where(eq(passes.id, id))
  return kept?.ownerId === ownerId
}

const UNIQUE_VIOLATION = '23505'

/** The account's row numbers its passes: who has seen a pass has seen all with lower ordinals. */
function keeping({ pass, midi, assessment }: JudgedPass): SQL {
  const takeId = randomUUID()
  const row = Object.fromEntries(
    Object.entries({ ...pass, takeId }).flatMap(([key, value]) =>
      value === undefined || !(key in columns) ? [] : [[columnName(key), value]],
    ),
  )
  const names = sql.raw(
    Object.keys(row)
      .map(name => `"${name}"`)
      .join(', '),
  )
  return sql`
    with account as (update ${accounts} set passes_kept = passes_kept + 1 where id = ${pass.ownerId} and not exists (select from ${passes} where id = ${pass.id}) returning passes_kept),
      taken as (insert into ${takes} (id, owner_id, midi) select ${takeId}::uuid, ${pass.ownerId}::uuid, ${Buffer.from(midi)}::bytea from account),
      kept as (insert into ${passes} (${names}, ordinal) select ${names}, passes_kept from account, jsonb_to_record(${JSON.stringify(row)}::jsonb) as sent (${sent(Object.keys(row))}) returning *),
      assessed as (insert into ${assessments} (pass_id, owner_id, document) select id, owner_id, ${JSON.stringify(assessment)}::jsonb from kept)
    ${summed(undefined, sql`kept as passes`)}`
}

const columns = getTableColumns(passes)
const columnName = (key: string) => key.replaceAll(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)
const columnTypes = new Map(Object.entries(columns).map(([key, column]) => [columnName(key), column.getSQLType()]))

/** Columns with their types, as a record sent as JSON is read. */
const sent = (names: readonly string[]) => sql.raw(names.map(name => `"${name}" ${columnTypes.get(name)}`).join(', '))

/** Passes inserted at once. */
const AT_ONCE = 100

/** Keeps a player's first passes, oldest first, in a few statements; the sums are to be made after it. */
export async function insertFirstPasses(db: Database, ownerId: string, judged: readonly JudgedPass[]): Promise<void> {
  await db.transaction(async tx => {
    for (let from = 0; from < judged.length; from += AT_ONCE) {
      const some = judged
        .slice(from, from + AT_ONCE)
        .map((one, index) => ({ ...one, takeId: randomUUID(), ordinal: from + index + 1 }))
      await tx.insert(takes).values(some.map(({ takeId, midi }) => ({ id: takeId, ownerId, midi: Buffer.from(midi) })))
      await tx.insert(passes).values(some.map(({ pass, takeId, ordinal }) => ({ ...pass, takeId, ordinal })))
      await tx
        .insert(assessments)
        .values(some.map(({ pass, assessment }) => ({ passId: pass.id, ownerId, document: assessment })))
    }
    await tx.update(accounts).set({ passesKept: judged.length }).where(eq(accounts.id, ownerId))
  })
}

/** A stored pass with everything it was judged by, and its sentence. */
export async function keptPass(db: Database, ownerId: string, passId: string) {
  const [row] = await db
    .select({ pass: passes, song: songs, arrangement: arrangements, document: assessments.document, midi: takes.midi })
    .from(passes)
    .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
    .innerJoin(songs, eq(songs.id, arrangements.songId))
    .innerJoin(assessments, eq(assessments.passId, passes.id))
    .innerJoin(takes, eq(takes.id, passes.takeId))
    .where(and(eq(passes.ownerId, ownerId), eq(passes.id, passId)))
  return row
}
export type KeptPass = NonNullable<Awaited<ReturnType<typeof keptPass>>>

/** Some of the passes that an older ear judged, the newest first: of a player, or of anybody. */
export async function stalePasses(db: Database, ear: number, most: number, ownerId?: string) {
  return await db
    .select({ id: passes.id, ownerId: passes.ownerId })
    .from(passes)
    .where(and(lt(passes.ear, ear), ownerId ? eq(passes.ownerId, ownerId) : undefined))
    .orderBy(desc(passes.startedAt))
    .limit(most)
}

/**
 * Replaces the judgement of a pass and the sums it counts in. The records of the player's songs are deleted, and
 * computed again when they are next asked for.
 */
export async function replaceJudgement(
  db: Database,
  { id, ownerId }: Pick<typeof passes.$inferSelect, 'id' | 'ownerId'>,
  judged: JudgedColumns & Pick<typeof passes.$inferSelect, 'cleanBefore'>,
  assessment: Assessment,
): Promise<void> {
  await db.transaction(async tx => {
    await tx
      .update(passes)
      .set({ ...judged, sentence: null })
      .where(and(eq(passes.ownerId, ownerId), eq(passes.id, id)))
    await tx
      .update(assessments)
      .set({ document: assessment })
      .where(and(eq(assessments.ownerId, ownerId), eq(assessments.passId, id)))
    await remakeSumsOf(tx, id)
    await tx
      .delete(records)
      .where(inArray(records.songId, tx.select({ id: songs.id }).from(songs).where(eq(songs.ownerId, ownerId))))
  })
}

/**
 * A player's passes, newest first; of an earlier page the filter's `to` is the start of the oldest one already known.
 */
export async function listPasses(db: Database, ownerId: string, limit: number, filter: LogbookFilter = {}) {
  return await db
    .select({
      id: passes.id,
      songId: songs.id,
      songTitle: songs.title,
      partId: passes.partId,
      partName: passes.partName,
      hands: passes.hands,
      mode: passes.mode,
      remark: passes.remark,
      bpm: passes.bpm,
      startedAt: passes.startedAt,
      lengthMs: passes.lengthMs,
      notes: passes.notes,
      right: passes.right,
      wrong: passes.wrong,
      missed: passes.missed,
      extra: passes.extra,
      onTimeShare: passes.onTimeShare,
      unsteadinessMs: passes.unsteadinessMs,
      clean: passes.clean,
      cleanBut: passes.cleanBut,
      cleanBefore: passes.cleanBefore,
      place: passes.place,
      score: passes.score,
      found: passes.found,
      sentence: passes.sentence,
      ear: passes.ear,
      fromN: passes.fromN,
      fromD: passes.fromD,
      toN: passes.toN,
      toD: passes.toD,
    })
    .from(passes)
    .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
    .innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(passesWhere(ownerId, filter))
    .orderBy(...newestFirst)
    .limit(limit)
}

/** The player's own words on a pass. Gives false when the pass is not there. */
export async function changeRemark(db: Database, ownerId: string, passId: string, remark: string): Promise<boolean> {
  const changed = await db
    .update(passes)
    .set({ remark })
    .where(and(eq(passes.ownerId, ownerId), eq(passes.id, passId)))
    .returning({ id: passes.id })
  return changed.length > 0
}

export async function passTake(db: Database, ownerId: string, passId: string) {
  const [row] = await db
    .select({ midi: takes.midi })
    .from(passes)
    .innerJoin(takes, eq(takes.id, passes.takeId))
    .where(and(eq(passes.ownerId, ownerId), eq(passes.id, passId)))
  return row?.midi
}
