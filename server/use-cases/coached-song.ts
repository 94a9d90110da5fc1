import { createHash } from 'node:crypto'
import { LRUCache } from 'lru-cache'
import { daysIn } from '#core/coach/days'
import { coachSettings, drillSettings } from '#core/coach/settings'
import { afterPasses, restoredRecord, startRecord, storedRecord, type SongRecord } from '#core/coach/record'
import { receivedPlan, type SongPlan } from '#core/coach/song-plan'
import { LIMITS } from '#core/music/limits'
import { arrangementDocument } from '../database/queries/arrangements'
import {
  documentsOf,
  editionArrangementIds,
  earlierRevisions,
  keepRecord,
  passesOfSong,
  songForCoach,
  type KeptRecord,
} from '../database/queries/coach'
import { draftOf, partsInOrder } from '../database/queries/parts'
import type { PlanWanted } from '../heavy/jobs'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import type { CoachedSong } from '../domain/coached-song'
import { askWithNotes } from './ask-with-notes'

/**
 * A song as the coach needs it: the plan for its newest arrangement, and the record of every pass that says something
 * of it. Undefined when it is not there. `program` names this build: another one may judge passes differently.
 */
export async function coachedSong(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  songId: string,
  program: string,
): Promise<CoachedSong | undefined> {
  const row = await songForCoach(db, ownerId, songId)
  if (!row) return undefined
  const { title, role, targetDate, targetShare, arrangementId, arrangementIds, timeZone, passesKept } = row
  const [rows, editionIds] = await Promise.all([
    partsInOrder(db, arrangementId),
    editionArrangementIds(db, ownerId, songId),
  ])
  const parts = rows.map(draftOf)
  const settings = role === 'drill' ? drillSettings(coachSettings(row.coach)) : coachSettings(row.coach)
  const basis = hashOf([program, arrangementId, editionIds, parts, settings, targetShare, timeZone])
  const kept = row.kept?.basis === basis ? row.kept : null
  const wanted: PlanWanted = { arrangementId, parts, settings, targetShare }
  const plan = kept
    ? { ...(await planOf(db, heavy, ownerId, wanted)), changes: restoredRecord(kept.record).changes }
    : await planWithRevisions(db, heavy, ownerId, songId, wanted)
  const record = await recordOf(db, {
    ownerId,
    songId,
    arrangementIds,
    editionIds,
    plan,
    basis,
    dayOf: daysIn(timeZone),
    passesKept,
    kept,
    planAgain: async () => await planWithRevisions(db, heavy, ownerId, songId, wanted),
  })
  return { songId, title, role, arrangementId, targetDate, targetShare, plan, record }
}

const hashOf = (of: unknown): string => createHash('sha256').update(JSON.stringify(of)).digest('base64url')

/**
 * Plans follow from the notes, the parts and the settings alone: those asked for last are kept, by how many notes they
 * are about.
 */
const plans = new LRUCache<string, SongPlan>({
  maxSize: 6 * LIMITS.notes,
  sizeCalculation: ({ arrangement }) => 100 + arrangement.notes.length,
})

async function planOf(db: Database, heavy: WorkerPool, ownerId: string, wanted: PlanWanted): Promise<SongPlan> {
  const key = hashOf(wanted)
  const known = plans.get(key)
  if (known) return known
  const arrangement = await arrangementDocument(db, wanted.arrangementId)
  const sent = await askWithNotes(
    () => arrangement,
    async notes => await heavy.run(ownerId, 'plan', { ...wanted, arrangement: notes }),
  )
  const plan = receivedPlan(arrangement, sent)
  plans.set(key, plan)
  return plan
}

/** Earlier revisions of a song considered for what has not changed since. */
const MAX_REVISIONS = 5

/** The plan with what earlier revisions have to say, of a song that was changed. */
async function planWithRevisions(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  songId: string,
  wanted: PlanWanted,
): Promise<SongPlan> {
  const revisions = await earlierRevisions(db, songId, wanted.arrangementId, MAX_REVISIONS)
  if (revisions.length === 0) return await planOf(db, heavy, ownerId, wanted)
  const arrangement = await arrangementDocument(db, wanted.arrangementId)
  const sent = await askWithNotes(
    () => arrangement,
    async notes => await heavy.run(ownerId, 'plan', { ...wanted, arrangement: notes, earlierRevisions: revisions }),
  )
  return { ...receivedPlan(arrangement, sent), earlierRevisions: revisions }
}

/** Passes read again before the record is stored anew. */
const MAX_UNSTORED_PASSES = 25

interface RecordWanted {
  ownerId: string
  songId: string
  arrangementIds: string[]
  editionIds: string[]
  plan: SongPlan
  basis: string
  dayOf: (ms: number) => string
  passesKept: number
  kept: KeptRecord | null
  planAgain: () => Promise<SongPlan>
}

/**
 * The record of a song: what was kept of it, and the passes since then; from the first pass on where one came late that
 * is older than what is known.
 */
async function recordOf(db: Database, wanted: RecordWanted): Promise<SongRecord> {
  const { ownerId, songId, arrangementIds, editionIds, basis, dayOf, passesKept, kept, planAgain } = wanted
  let { plan } = wanted
  const known = kept ? restoredRecord(kept.record).record : startRecord(plan)
  if (kept?.upTo === passesKept) return known
  const newer = await passesOfSong(db, ownerId, { arrangementIds, editionIds }, plan, {
    after: kept?.upTo ?? 0,
    upTo: passesKept,
  })
  const newestMs = known.newestDay.at(-1)?.atMs ?? -Infinity
  // One that came late: all of it again.
  if (newer.length > 0 && newer[0]!.atMs < newestMs)
    return await recordOf(db, { ...wanted, plan: kept ? await planAgain() : plan, kept: null })
  const played = [...new Set(newer.flatMap(pass => pass.edition ?? []))]
  if (played.length > 0) plan = { ...plan, editions: await documentsOf(db, ownerId, played) }
  const record = afterPasses(plan, known, newer, dayOf)
  // What earlier revisions have to say is worked out once.
  if (newer.length >= MAX_UNSTORED_PASSES || (!kept && plan.earlierRevisions.length > 0))
    await keepRecord(db, { songId, basis, upTo: passesKept, record: storedRecord(plan, record) })
  return record
}
