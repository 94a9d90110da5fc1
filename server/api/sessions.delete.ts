import { endSessionsOf } from '../database/queries/sessions'

/** Signs the player out everywhere, here too. */
export default forPlayer(async ({ event, playerId, db }) => {
  await endSessionsOf(db, playerId)
  await clearUserSession(event)
  return sendNoContent(event)
})
