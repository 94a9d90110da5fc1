import Joi from 'joi'
import { leave } from '../../use-cases/own-account'

const schema = Joi.object<{ name: string; current?: string }>({
  name: Joi.string().max(60).required(),
  current: Joi.string().allow('').max(200),
})

/** Deletes the account with everything of it: who does it names it, and gives the password where there is one. */
export default forPlayer(async ({ event, playerId, db }) => {
  await leave({ db, passwords: passwords(), tries: tries() }, playerId, {
    ...(await checkedBody(event, schema)),
    address: addressOf(event),
  })
  await clearUserSession(event)
  return sendNoContent(event)
})
