import { settingsSchema } from '#shared/utils/settings-schema'
import { changeSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

/**
 * Changes a player's settings; answers with all of them. What is given of the coach, of the Stand's look and of the
 * sound is changed, and the rest stays.
 */
export default forPlayer(async ({ event, playerId, db }) => {
  const settings = await changeSettings(db, playerId, await validBody(event, settingsSchema))
  if (!settings) throw notThere('this player')
  return settings
})
