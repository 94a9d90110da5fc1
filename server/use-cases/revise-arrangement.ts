import type { Change } from '#core/edit/change'
import type { VoiceChoice } from '#core/music/voice'
import { arrangementText, insertRevision } from '../database/queries/arrangements'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { notThere, Refusal, unsaved } from './refusal'

/** The changes: corrections of notes and marks, or an assignment of voices. */
export type Revision = { changes: Change[] } | { voices: VoiceChoice; swapHands: boolean }

/**
 * Saves an arrangement, changed, as its song's next revision; as it is when nothing changes. Gives the revision's id
 * and number. Throws a Refusal.
 */
export async function reviseArrangement(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  id: string,
  revision: Revision,
  gone?: AbortSignal,
): Promise<{ id: string; revision: number }> {
  const base = await arrangementText(db, ownerId, id)
  if (!base) throw notThere('this arrangement')
  const text = { document: base.document, musicXml: base.musicXml }
  const revised =
    'changes' in revision
      ? await heavy.run(ownerId, 'corrections', { text, changes: revision.changes }, gone)
      : await heavy.run(ownerId, 'roles', { text, ...revision }, gone)
  if (revised === 'unchanged') return { id, revision: base.revision }
  if ('refused' in revised) throw new Refusal(422, revised.refused)
  const saved = await insertRevision(db, ownerId, id, revised)
  if (typeof saved === 'string') throw unsaved(saved)
  return saved
}
