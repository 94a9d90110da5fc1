import { passwords } from '../../security/passwords'
import { loginRateLimiter } from '../../security/login-rate-limiter'
import Joi from 'joi'
import { deleteOwnAccount } from '../../use-cases/own-account'

const schema = Joi.object<{ name: string; current?: string }>({
  name: Joi.string().max(60).required(),
  current: Joi.string().allow('').max(200),
})

/** Deletes the account with everything of it: who does it names it, and gives the password where there is one. */
export default forPlayer(async ({ event, playerId, db }) => {
  await deleteOwnAccount({ db, passwords: passwords(), loginRateLimiter: loginRateLimiter() }, playerId, {
    ...(await validBody(event, schema)),
    address: addressOf(event),
  })
  await clearUserSession(event)
  return sendNoContent(event)
})
