import type { Arrangement } from '#core/music/arrangement'
import { arrangementDocument } from '../database/queries/arrangements'
import type { Database } from '../utils/database'

/** Asks a thread for something about an arrangement; its notes go along only when the thread does not know them. */
export async function withNotes<Made>(db: Database, arrangementId: string, ask: (arrangement?: Arrangement) => Promise<Made | 'unknown'>): Promise<Made> {
  const made = await ask()
  return made === 'unknown' ? await ask(await arrangementDocument(db, arrangementId)) as Made : made
}
