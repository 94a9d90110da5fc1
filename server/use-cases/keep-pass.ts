import type { SentPass } from '#shared/utils/passes'
import { arrangementDocument } from '../database/queries/arrangements'
import { insertPass } from '../database/queries/passes'
import { partOfPlayer } from '../database/queries/parts'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { notThere, Refusal } from './refusal'
import { askWithNotes } from './ask-with-notes'

/**
 * Keeps a pass with its take and assessment, all or nothing. Sent twice with the same id it is kept once. Throws a
 * Refusal for what is not the player's or does not lie in the song.
 */
export async function keepPass(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  sent: SentPass,
  gone?: AbortSignal,
): Promise<void> {
  const part = await partOfPlayer(db, ownerId, sent.partId)
  if (!part) throw notThere('this part')
  const { arrangementId, ...its } = part
  const owner = { ownerId, arrangementId, part: its }
  const judged = await askWithNotes(
    async () => await arrangementDocument(db, arrangementId),
    async arrangement => await heavy.run(ownerId, 'pass', { owner, sent, arrangement }, gone),
  )
  if (judged === 'outside') throw new Refusal(400, 'stretch: it ends before it begins, or lies outside the song')
  if (!(await insertPass(db, judged))) throw new Refusal(409, 'this id belongs to another pass')
}
