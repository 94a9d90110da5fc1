import Joi from 'joi'
import { listDays } from '../../database/queries/coach'

const schema = Joi.object<{ limit: number }>({ limit: Joi.number().integer().min(1).max(400).default(60) })

/** The player's notes on days, and what was skipped, newest first. */
export default forPlayer(
  async ({ event, playerId, db }) => await listDays(db, playerId, validQuery(event, schema).limit),
)
