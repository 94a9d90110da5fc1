import { LRUCache } from 'lru-cache'
import { failedPlaces } from '#core/coach/pass'
import type { Arrangement } from '#core/music/arrangement'
import { notesKey } from '#core/parts/notes-key'
import type { Database } from '../database/connection'
import { arrangementDocument } from '../database/queries/arrangements'
import { passesWithoutNotesKey, setNotesKey } from '../database/queries/coach'
import { stretchOf } from '../database/queries/parts'

const BATCH = 300
/** Consecutive old passes are of the same few arrangements. */
const CACHED_ARRANGEMENTS = 20

/**
 * Gives passes that were kept before the coach existed the name of their notes and the places where they failed. Gives
 * how many passes it changed; none when it has run before.
 */
export async function backfillNotesKeys(db: Database): Promise<number> {
  const arrangements = new LRUCache<string, Arrangement>({ max: CACHED_ARRANGEMENTS })
  let changed = 0
  while (true) {
    const rows = await passesWithoutNotesKey(db, BATCH)
    if (rows.length === 0) return changed
    for (const { pass, assessment } of rows) {
      const arrangement = arrangements.get(pass.arrangementId) ?? (await arrangementDocument(db, pass.arrangementId))
      arrangements.set(pass.arrangementId, arrangement)
      await setNotesKey(db, pass.id, {
        notesKey: notesKey(arrangement, stretchOf(pass), pass.hands),
        failed: failedPlaces(arrangement, assessment),
      })
      changed++
    }
  }
}
