import { randomUUID } from 'node:crypto'
import type { Hands } from '#core/music/arrangement'
import { playerSettings } from '../database/queries/accounts'
import { arrangementOfSong } from '../database/queries/arrangements'
import { insertPass } from '../database/queries/passes'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { notThere, Refusal } from './refusal'

/**
 * Judges a Standard MIDI File of a whole song, played freely, and stores it as a pass, unless the client has
 * disconnected meanwhile. Gives the pass's id.
 */
export async function keepRecording(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  songId: string,
  { bytes, hands }: { bytes: Uint8Array; hands: Hands },
  gone?: AbortSignal,
): Promise<string> {
  const found = await arrangementOfSong(db, ownerId, songId)
  if (!found) throw notThere('this song')
  const settings = await playerSettings(db, ownerId)
  const id = randomUUID()
  const judged = await heavy.run(
    ownerId,
    'recording',
    {
      id,
      ownerId,
      arrangementId: found.id,
      arrangement: found.document,
      bytes,
      hands,
      strictness: settings?.strictness ?? 'normal',
      startedAt: new Date(),
    },
    gone,
  )
  if ('refused' in judged) throw new Refusal(422, judged.refused)
  gone?.throwIfAborted()
  await insertPass(db, judged)
  return id
}
