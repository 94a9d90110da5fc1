import { passwordChangeSchema } from '#shared/utils/credentials'
import { passwords } from '../../security/passwords'
import { loginRateLimiter } from '../../security/login-rate-limiter'
import { changePassword } from '../../use-cases/own-account'

/** Gives the player another password, or their first; every other session ends. */
export default forPlayer(async ({ event, playerId, db }) => {
  const change = await validBody(event, passwordChangeSchema)
  const account = await changePassword({ db, passwords: passwords(), loginRateLimiter: loginRateLimiter() }, playerId, {
    ...change,
    address: addressOf(event),
  })
  await beginSessionFor(event, account)
  return sendNoContent(event)
})
