import type { DrillRecipe } from '#core/patterns/drills/recipe'
import { playerSettings } from '../database/queries/accounts'
import { partNames } from '../database/queries/parts'
import { insertSong } from '../database/queries/songs'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { notThere, Refusal } from './refusal'

/**
 * Makes a drill from its recipe and keeps it among the player's drills. Gives its id and its first part's. Throws a
 * Refusal.
 */
export async function makeDrill(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  recipe: DrillRecipe,
  gone?: AbortSignal,
): Promise<{ id: string; partId: string }> {
  const settings = await playerSettings(db, ownerId)
  if (!settings) throw notThere('this player')
  const made = await heavy.run(
    ownerId,
    'drill',
    { recipe, reach: settings.reachHalfSteps, noteNames: settings.noteNames },
    gone,
  )
  if ('refused' in made) throw new Refusal(422, made.refused)
  gone?.throwIfAborted()
  const id = (await insertSong(db, ownerId, made.score, made.parts, {
    role: 'drill',
    origin: { kind: 'drill', recipe },
  }))!
  const [first] = await partNames(db, ownerId, id)
  return { id, partId: first!.id }
}
