import { and, eq, exists, notExists, sql, type SQL } from 'drizzle-orm'
import type { Database } from '../../utils/database'
import { arrangements, passes, players, sums } from '../schema'

/** The fewest right notes that say how steady a pass was. */
const STEADY_NOTES = 3

/** Sums of passes by day and notes, for the rows that `which` names. */
const summed = (which: SQL | undefined) => sql`
  insert into ${sums} (owner_id, day, song_id, part_id, hands, notes_key, passes, clean, length_ms, unsteadiness_ms, steady_passes, clean_bpm, last_at)
  select ${passes.ownerId}, (${passes.startedAt} at time zone ${players.timeZone})::date, ${arrangements.songId}, ${passes.partId}, ${passes.hands}, ${passes.notesKey},
    count(*), count(*) filter (where ${passes.clean}), sum(${passes.lengthMs}),
    coalesce(sum(${passes.unsteadinessMs}) filter (where ${passes.mode} = 'steady' and ${passes.right} > ${STEADY_NOTES}), 0), count(*) filter (where ${passes.mode} = 'steady' and ${passes.right} > ${STEADY_NOTES}),
    max(${passes.bpm}) filter (where ${passes.clean} and ${passes.mode} = 'steady'), max(${passes.startedAt})
  from ${passes} join ${players} on ${players.id} = ${passes.ownerId} join ${arrangements} on ${arrangements.id} = ${passes.arrangementId}
  where ${which ?? sql`true`} group by 1, 2, 3, 4, 5, 6
  on conflict on constraint sums_of do update set passes = sums.passes + excluded.passes, clean = sums.clean + excluded.clean, length_ms = sums.length_ms + excluded.length_ms,
    unsteadiness_ms = sums.unsteadiness_ms + excluded.unsteadiness_ms, steady_passes = sums.steady_passes + excluded.steady_passes,
    clean_bpm = greatest(sums.clean_bpm, excluded.clean_bpm), last_at = greatest(sums.last_at, excluded.last_at)`

type Executor = Pick<Database, 'execute' | 'delete' | 'select'>

/** Counts a pass that has just been kept. */
export async function addToSums(tx: Executor, passId: string): Promise<void> {
  await tx.execute(summed(eq(passes.id, passId)))
}

/** Makes the sums of a player anew, or everybody's; passes that come meanwhile wait. */
export async function rebuildSums(tx: Executor, ownerId?: string): Promise<void> {
  await tx.select({ id: players.id }).from(players).where(ownerId ? eq(players.id, ownerId) : undefined).for('update')
  await tx.delete(sums).where(ownerId ? eq(sums.ownerId, ownerId) : undefined)
  await tx.execute(summed(ownerId ? eq(passes.ownerId, ownerId) : undefined))
}

/** Whether there are players with passes and without sums: from before the sums. */
export async function sumsAreMissing(db: Database): Promise<boolean> {
  const rows = await db.select({ id: players.id }).from(players).where(and(exists(db.select().from(passes).where(eq(passes.ownerId, players.id))), notExists(db.select().from(sums).where(eq(sums.ownerId, players.id))))).limit(1)
  return rows.length > 0
}
