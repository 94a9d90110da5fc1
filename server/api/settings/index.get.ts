import { playerSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

export default forPlayer(async ({ playerId, db }) => {
  const settings = await playerSettings(db, playerId)
  if (!settings) throw notThere('this player')
  return settings
})
