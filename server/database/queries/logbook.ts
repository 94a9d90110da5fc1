import { and, asc, desc, eq, gte, inArray, isNotNull, lt, max, sql, type SQL } from 'drizzle-orm'
import type { Hand, Hands } from '#core/music/arrangement'
import type { Database } from '../connection'
import { arrangements, assessments, parts, passes, accounts, songs, sums } from '../schema'

/**
 * Which passes a view is about; whatever is left out is not asked for. `to`: begun before it. `day`: of the player's
 * days, as "2026-03-01".
 */
export interface LogbookFilter {
  songId?: string
  partId?: string
  hands?: Hands
  to?: Date
  day?: string
}

export function passesWhere(ownerId: string, { songId, partId, hands, to, day }: LogbookFilter): SQL | undefined {
  const zone = sql`(select ${accounts.timeZone} from ${accounts} where ${accounts.id} = ${ownerId})`
  return and(
    eq(passes.ownerId, ownerId),
    day
      ? sql`${passes.startedAt} >= (${day}::date)::timestamp at time zone ${zone} and ${passes.startedAt} < (${day}::date + 1)::timestamp at time zone ${zone}`
      : undefined,
    songId
      ? sql`${passes.arrangementId} in (select ${arrangements.id} from ${arrangements} where ${arrangements.songId} = ${songId})`
      : undefined,
    partId ? eq(passes.partId, partId) : undefined,
    hands ? eq(passes.hands, hands) : undefined,
    to ? lt(passes.startedAt, to) : undefined,
  )
}

/** Newest first, in the words of the index: without its "nulls last" every row would be sorted. */
export const newestFirst = [sql`${passes.startedAt} desc nulls last`, sql`${passes.id} desc nulls last`] as const

function sumsWhere(ownerId: string, { songId, partId, hands }: LogbookFilter, fromDay?: string): SQL | undefined {
  return and(
    eq(sums.ownerId, ownerId),
    songId ? eq(sums.songId, songId) : undefined,
    partId ? eq(sums.partId, partId) : undefined,
    hands ? eq(sums.hands, hands) : undefined,
    fromDay ? gte(sums.day, fromDay) : undefined,
  )
}

/**
 * The player's days with what was played: minutes at the keys, passes, clean ones, and how steady they were on average.
 * Oldest first.
 */
export async function daysPlayed(db: Database, ownerId: string, filter: LogbookFilter, fromDay?: string) {
  return await db
    .select({
      day: sums.day,
      passes: sql<number>`sum(${sums.passes})::int`,
      clean: sql<number>`sum(${sums.clean})::int`,
      minutes: sql<number>`(sum(${sums.lengthMs}) / 60000.0)::float8`,
      unsteadinessMs: sql<number | null>`sum(${sums.unsteadinessMs}) / nullif(sum(${sums.steadyPasses}), 0)`,
    })
    .from(sums)
    .where(sumsWhere(ownerId, filter, fromDay))
    .groupBy(sums.day)
    .orderBy(asc(sums.day))
}

/**
 * The newest days of practice with what was played on each, newest first; of the player's days those before `before`.
 */
export async function sessionsPlayed(
  db: Database,
  ownerId: string,
  filter: LogbookFilter,
  limit: number,
  before?: string,
) {
  const where = and(sumsWhere(ownerId, filter), before ? lt(sums.day, before) : undefined)
  const newest = db.selectDistinct({ day: sums.day }).from(sums).where(where).orderBy(desc(sums.day)).limit(limit)
  const rows = await db
    .select({
      day: sums.day,
      songId: songs.id,
      title: songs.title,
      edition: songs.edition,
      /** In the order of the song; passes of removed parts have no name. */
      parts: sql<
        string[]
      >`coalesce((select array_agg(named.name order by named.place) from ${parts} named where named.id = any(array_agg(distinct ${sums.partId}))), '{}')`,
      passes: sql<number>`sum(${sums.passes})::int`,
      clean: sql<number>`sum(${sums.clean})::int`,
      minutes: sql<number>`(sum(${sums.lengthMs}) / 60000.0)::float8`,
    })
    .from(sums)
    .innerJoin(songs, eq(songs.id, sums.songId))
    .where(and(where, inArray(sums.day, newest)))
    .groupBy(sums.day, songs.id)
    .orderBy(desc(sums.day), desc(sql`sum(${sums.passes})`))
  const days = new Map<
    string,
    { day: string; minutes: number; passes: number; clean: number; songs: Omit<(typeof rows)[number], 'day'>[] }
  >()
  for (const { day, ...song } of rows) {
    const known = days.get(day) ?? { day, minutes: 0, passes: 0, clean: 0, songs: [] }
    days.set(day, {
      day,
      minutes: known.minutes + song.minutes,
      passes: known.passes + song.passes,
      clean: known.clean + song.clean,
      songs: [...known.songs, song],
    })
  }
  return [...days.values()]
}

/** The fastest clean pass of each day, by hands: how the tempo rose. Oldest first. */
export async function tempoReached(db: Database, ownerId: string, filter: LogbookFilter, fromDay?: string) {
  return await db
    .select({ day: sums.day, hands: sums.hands, bpm: sql<number>`max(${sums.cleanBpm})` })
    .from(sums)
    .where(and(sumsWhere(ownerId, filter, fromDay), isNotNull(sums.cleanBpm)))
    .groupBy(sums.day, sums.hands)
    .orderBy(asc(sums.day))
}

/** The newest passes of one part with where they failed, oldest first. */
export async function failuresOf(db: Database, ownerId: string, filter: LogbookFilter, most: number) {
  const rows = await db
    .select({
      startedAt: passes.startedAt,
      hands: passes.hands,
      failed: passes.failed,
      fromN: passes.fromN,
      fromD: passes.fromD,
      toN: passes.toN,
      toD: passes.toD,
    })
    .from(passes)
    .where(and(passesWhere(ownerId, filter), sql`${passes.failed} is not null`))
    .orderBy(...newestFirst)
    .limit(most)
  return rows.reverse()
}

/**
 * When each note came in the newest passes with the click: in how many of them it was right, and the median and
 * quartiles of its deviation, ms, by hand and place.
 */
export async function timesOfNotes(db: Database, ownerId: string, filter: LogbookFilter, most: number) {
  const newest = db
    .select({ id: passes.id })
    .from(passes)
    .where(and(passesWhere(ownerId, filter), eq(passes.mode, 'steady')))
    .orderBy(...newestFirst)
    .limit(most)
  const { rows } = await db.execute<{
    hand: Hand
    bar: number
    beat: number
    count: number
    low: number
    median: number
    high: number
  }>(sql`
    select note ->> 'hand' as hand, (note ->> 'bar')::int as bar, (note ->> 'beat')::float8 as beat, count(distinct ${assessments.passId})::int as count,
      percentile_cont(0.25) within group (order by (note ->> 'deviationMs')::float8) as low, percentile_cont(0.5) within group (order by (note ->> 'deviationMs')::float8) as median,
      percentile_cont(0.75) within group (order by (note ->> 'deviationMs')::float8) as high
    from ${assessments}, jsonb_array_elements(${assessments.document} -> 'notes') note
    where ${assessments.ownerId} = ${ownerId} and ${inArray(assessments.passId, newest)} and note ->> 'outcome' = 'right' and note ->> 'deviationMs' is not null
    group by 1, 2, 3`)
  return rows
}

/** How much was ever played, by song, the last played first. */
export async function songTotals(db: Database, ownerId: string) {
  return await db
    .select({
      songId: songs.id,
      title: songs.title,
      edition: songs.edition,
      passes: sql<number>`sum(${sums.passes})::int`,
      minutes: sql<number>`(sum(${sums.lengthMs}) / 60000.0)::float8`,
    })
    .from(sums)
    .innerJoin(songs, eq(songs.id, sums.songId))
    .where(eq(sums.ownerId, ownerId))
    .groupBy(songs.id)
    .orderBy(desc(max(sums.lastAt)))
}

const EXPORTED = {
  id: passes.id,
  startedAt: passes.startedAt,
  song: songs.title,
  version: songs.edition,
  partId: passes.partId,
  part: passes.partName,
  place: passes.place,
  hands: passes.hands,
  mode: passes.mode,
  bpm: passes.bpm,
  lengthMs: passes.lengthMs,
  notes: passes.notes,
  right: passes.right,
  wrong: passes.wrong,
  missed: passes.missed,
  extra: passes.extra,
  onTimeShare: passes.onTimeShare,
  offsetMs: passes.offsetMs,
  driftPercent: passes.driftPercent,
  unsteadinessMs: passes.unsteadinessMs,
  clean: passes.clean,
  cleanBut: passes.cleanBut,
  score: passes.score,
  strictness: passes.strictness,
  keyboardDelayMs: passes.keyboardDelayMs,
  found: passes.found,
  sentence: passes.sentence,
  remark: passes.remark,
} as const
export type ExportedPass = {
  [Field in keyof typeof EXPORTED]: (typeof EXPORTED)[Field]['_']['notNull'] extends true
    ? (typeof EXPORTED)[Field]['_']['data']
    : (typeof EXPORTED)[Field]['_']['data'] | null
}

/** Every pass, oldest first, a page at a time, for writing out. */
export async function* allPasses(db: Database, ownerId: string) {
  const PAGE = 5000
  let after: { startedAt: Date; id: string } | undefined
  while (true) {
    const page = await db
      .select(EXPORTED)
      .from(passes)
      .innerJoin(arrangements, eq(arrangements.id, passes.arrangementId))
      .innerJoin(songs, eq(songs.id, arrangements.songId))
      .where(
        and(
          eq(passes.ownerId, ownerId),
          after
            ? sql`(${passes.startedAt}, ${passes.id}) > (${after.startedAt.toISOString()}::timestamptz, ${after.id}::uuid)`
            : undefined,
        ),
      )
      .orderBy(asc(passes.startedAt), asc(passes.id))
      .limit(PAGE)
    yield* page
    if (page.length < PAGE) return
    after = page.at(-1)!
  }
}
