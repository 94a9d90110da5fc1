import { and, eq, exists, notExists, sql, type SQL } from 'drizzle-orm'
import type { Database } from '../connection'
import { arrangements, passes, accounts, sums } from '../schema'

/** The fewest right notes that say how steady a pass was. */
const STEADY_NOTES = 3

/**
 * Sums of passes by day and notes, for the rows that `which` names, of the passes or of rows of that name (`kept as
 * passes`).
 */
export const summed = (which: SQL | undefined, rows = sql`${passes}`) => sql`
  insert into ${sums} (owner_id, day, song_id, part_id, hands, notes_key, passes, clean, length_ms, unsteadiness_ms, steady_passes, clean_bpm, last_at)
  select ${passes.ownerId}, (${passes.startedAt} at time zone ${accounts.timeZone})::date, ${arrangements.songId}, ${passes.partId}, ${passes.hands}, ${passes.notesKey},
    count(*), count(*) filter (where ${passes.clean}), sum(${passes.lengthMs}),
    coalesce(sum(${passes.unsteadinessMs}) filter (where ${passes.mode} = 'steady' and ${passes.right} > ${STEADY_NOTES}), 0), count(*) filter (where ${passes.mode} = 'steady' and ${passes.right} > ${STEADY_NOTES}),
    max(${passes.bpm}) filter (where ${passes.clean} and (${passes.mode} = 'steady' or ${passes.mode} = 'free' and ${passes.notesKey} is not null)), max(${passes.startedAt})
  from ${rows} join ${accounts} on ${accounts.id} = ${passes.ownerId} join ${arrangements} on ${arrangements.id} = ${passes.arrangementId}
  where ${which ?? sql`true`} group by 1, 2, 3, 4, 5, 6
  on conflict on constraint sums_of do update set passes = sums.passes + excluded.passes, clean = sums.clean + excluded.clean, length_ms = sums.length_ms + excluded.length_ms,
    unsteadiness_ms = sums.unsteadiness_ms + excluded.unsteadiness_ms, steady_passes = sums.steady_passes + excluded.steady_passes,
    clean_bpm = greatest(sums.clean_bpm, excluded.clean_bpm), last_at = greatest(sums.last_at, excluded.last_at)`

type Executor = Pick<Database, 'execute' | 'delete' | 'select'>

/** Computes the one sum again that a pass belongs to: its judgement has changed. */
export async function remakeSumsOf(tx: Executor, passId: string): Promise<void> {
  const sameSum = sql`(${passes.ownerId}, (${passes.startedAt} at time zone ${accounts.timeZone})::date, ${arrangements.songId}, ${passes.hands}) = (
      select it.owner_id, (it.started_at at time zone its.time_zone)::date, of.song_id, it.hands from ${passes} it join ${accounts} its on its.id = it.owner_id join ${arrangements} of on of.id = it.arrangement_id where it.id = ${passId})
    and ${passes.partId} is not distinct from (select it.part_id from ${passes} it where it.id = ${passId})
    and ${passes.notesKey} is not distinct from (select it.notes_key from ${passes} it where it.id = ${passId})`
  await tx.execute(sql`
    delete from ${sums} using ${passes} it, ${accounts} its, ${arrangements} of
    where it.id = ${passId} and its.id = it.owner_id and of.id = it.arrangement_id and ${sums.ownerId} = it.owner_id and ${sums.day} = (it.started_at at time zone its.time_zone)::date
      and ${sums.songId} = of.song_id and ${sums.hands} = it.hands and ${sums.partId} is not distinct from it.part_id and ${sums.notesKey} is not distinct from it.notes_key`)
  await tx.execute(summed(sameSum))
}

/** Computes the sums of a player again, or everybody's; passes that arrive meanwhile wait. */
export async function rebuildSums(tx: Executor, ownerId?: string): Promise<void> {
  await tx
    .select({ id: accounts.id })
    .from(accounts)
    .where(ownerId ? eq(accounts.id, ownerId) : undefined)
    .for('update')
  await tx.delete(sums).where(ownerId ? eq(sums.ownerId, ownerId) : undefined)
  await tx.execute(summed(ownerId ? eq(passes.ownerId, ownerId) : undefined))
}

/** Whether there are accounts with passes and without sums: from before the sums. */
export async function sumsAreMissing(db: Database): Promise<boolean> {
  const rows = await db
    .select({ id: accounts.id })
    .from(accounts)
    .where(
      and(
        exists(db.select().from(passes).where(eq(passes.ownerId, accounts.id))),
        notExists(db.select().from(sums).where(eq(sums.ownerId, accounts.id))),
      ),
    )
    .limit(1)
  return rows.length > 0
}
