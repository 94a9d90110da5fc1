import { playerSettings } from '../../database/queries/players'

export default defineEventHandler(async (event) => {
  const settings = await playerSettings(database(), await requirePlayerId(event))
  if (!settings) throw notFound('this player')
  return settings
})
