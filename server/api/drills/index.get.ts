import { evennessByFinger, leastEven } from '#core/ear/by-finger'
import { newestTimedNotes } from '../../database/queries/drills'
import { listSongs } from '../../database/queries/songs'

/** Drills looked at, the last practised first, for their newest pass. */
const MAX_HEARD = 12

/**
 * The player's drills, the last practised first, with their recipes, and of the newest ones the finger that was least
 * even.
 */
export default forPlayer(async ({ playerId, db }) => {
  const drills = await listSongs(db, playerId, { isDrills: true })
  const heard = await newestTimedNotes(
    db,
    playerId,
    drills
      .filter(drill => drill.passes > 0)
      .slice(0, MAX_HEARD)
      .map(drill => drill.id),
  )
  return drills.map(drill => ({ ...drill, leastEven: leastEven(evennessByFinger(heard.get(drill.id) ?? [])) ?? null }))
})
