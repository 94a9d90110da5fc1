import { storedRecord } from '#core/coach/record'
import { notThere } from '../../../use-cases/refusal'

/**
 * What the Stand needs for the coach to speak at once after each pass: the song's parts, the goal, and where the player
 * stands.
 */
export default forPlayer(async ({ event, playerId }) => {
  const song = await songOf(playerId, validId(event))
  if (!song) throw notThere('this song')
  const { plan, record, targetShare, arrangementId } = song
  const { stages, shown, newestDay, changes } = storedRecord(plan, record)
  return { arrangementId, parts: plan.parts, settings: plan.settings, targetShare, stages, shown, newestDay, changes }
})
