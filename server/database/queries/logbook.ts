import { and, asc, desc, eq, gte, lt, sql, type SQL } from 'drizzle-orm'
import type { Hands } from '#core/music/arrangement'
import type { Database } from '../../utils/database'
import { arrangements, passes, songs } from '../schema'

/** Which passes a view is about; whatever is left out is not asked for. */
export interface LogbookFilter { songId?: string, partId?: string, hands?: Hands, from?: Date, to?: Date }

export function passesWhere(ownerId: string, { songId, partId, hands, from, to }: LogbookFilter): SQL | undefined {
  return and(
    eq(passes.ownerId, ownerId),
    songId ? sql`${passes.arrangementId} in (select ${arrangements.id} from ${arrangements} where ${arrangements.songId} = ${songId})` : undefined,
    partId ? eq(passes.partId, partId) : undefined, hands ? eq(passes.hands, hands) : undefined,
    from ? gte(passes.startedAt, from) : undefined, to ? lt(passes.startedAt, to) : undefined,
  )
}

/** The day of a pass where the player is. The zone's name is written out: grouping by an expression with a parameter in it is not allowed. */
const dayOf = (timeZone: string) => sql<string>`to_char(${passes.startedAt} at time zone ${sql.raw(`'${timeZone.replaceAll(/[^\w+\-/]/g, '')}'`)}, 'YYYY-MM-DD')`

/** The player's days with what was played: minutes at the keys, passes, clean ones, and how steady they were in the middle. Oldest first. */
export async function daysPlayed(db: Database, ownerId: string, filter: LogbookFilter, timeZone: string) {
  const day = dayOf(timeZone)
  return await db.select({
    day, passes: sql<number>`count(*)::int`, clean: sql<number>`(count(*) filter (where ${passes.clean}))::int`, minutes: sql<number>`sum(${passes.lengthMs}) / 60000.0`.mapWith(Number),
    // The mean says as much here as the median would, and is made in one go.
    unsteadinessMs: sql<number | null>`avg(${passes.unsteadinessMs}) filter (where ${passes.mode} = 'steady' and ${passes.right} > 3)`,
  }).from(passes).where(passesWhere(ownerId, filter)).groupBy(day).orderBy(asc(day))
}

/** The fastest clean pass of each day, by hands: how the tempo rose. Oldest first. */
export async function tempoReached(db: Database, ownerId: string, filter: LogbookFilter, timeZone: string) {
  const day = dayOf(timeZone)
  return await db.select({ day, hands: passes.hands, bpm: sql<number>`max(${passes.bpm})` }).from(passes)
    .where(and(passesWhere(ownerId, filter), eq(passes.clean, true), eq(passes.mode, 'steady'))).groupBy(day, passes.hands).orderBy(asc(day))
}

/** The newest passes of one part with where they failed, oldest first. */
export async function failuresOf(db: Database, ownerId: string, filter: LogbookFilter, most: number) {
  const rows = await db.select({
    startedAt: passes.startedAt, hands: passes.hands, failed: passes.failed, fromN: passes.fromN, fromD: passes.fromD, toN: passes.toN, toD: passes.toD,
  }).from(passes).where(and(passesWhere(ownerId, filter), sql`${passes.failed} is not null`)).orderBy(desc(passes.startedAt)).limit(most)
  return rows.reverse()
}

/** How much was ever played, by song. */
export async function songTotals(db: Database, ownerId: string) {
  return await db.select({ songId: songs.id, title: songs.title, edition: songs.edition, passes: sql<number>`count(*)::int`, minutes: sql<number>`sum(${passes.lengthMs}) / 60000.0`.mapWith(Number) })
    .from(passes).innerJoin(arrangements, eq(arrangements.id, passes.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
    .where(eq(passes.ownerId, ownerId)).groupBy(songs.id).orderBy(desc(sql`max(${passes.startedAt})`))
}

const EXPORTED = {
  id: passes.id, startedAt: passes.startedAt, song: songs.title, version: songs.edition, part: passes.partName, hands: passes.hands, mode: passes.mode, bpm: passes.bpm,
  lengthMs: passes.lengthMs, notes: passes.notes, right: passes.right, wrong: passes.wrong, missed: passes.missed, extra: passes.extra, onTimeShare: passes.onTimeShare,
  offsetMs: passes.offsetMs, driftPercent: passes.driftPercent, unsteadinessMs: passes.unsteadinessMs, clean: passes.clean, score: passes.score, strictness: passes.strictness,
  keyboardDelayMs: passes.keyboardDelayMs, sentence: passes.sentence, remark: passes.remark,
} as const
export const EXPORTED_FIELDS = Object.keys(EXPORTED) as (keyof typeof EXPORTED)[]

/** Every pass, oldest first, a page at a time, for writing out. */
export async function* allPasses(db: Database, ownerId: string) {
  const PAGE = 5000
  let after: { startedAt: Date, id: string } | undefined
  while (true) {
    const page = await db.select(EXPORTED).from(passes).innerJoin(arrangements, eq(arrangements.id, passes.arrangementId)).innerJoin(songs, eq(songs.id, arrangements.songId))
      .where(and(eq(passes.ownerId, ownerId), after ? sql`(${passes.startedAt}, ${passes.id}) > (${after.startedAt.toISOString()}::timestamptz, ${after.id}::uuid)` : undefined))
      .orderBy(asc(passes.startedAt), asc(passes.id)).limit(PAGE)
    yield* page
    if (page.length < PAGE) return
    after = page.at(-1)!
  }
}
