import { changePassword } from '../../use-cases/own-account'

/** Gives the player another password, or their first; every other session ends. */
export default forPlayer(async ({ event, playerId, db }) => {
  const change = await checkedBody(event, passwordChangeSchema)
  const account = await changePassword({ db, passwords: passwords(), tries: tries() }, playerId, {
    ...change,
    address: addressOf(event),
  })
  await beginSessionFor(event, account)
  return sendNoContent(event)
})
