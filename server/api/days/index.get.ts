import Joi from 'joi'
import { listDays } from '../../database/queries/coach'

const schema = Joi.object<{ limit: number }>({ limit: Joi.number().integer().min(1).max(400).default(60) })

/** What the player has said of days, and skipped, newest first. */
export default forPlayer(
  async ({ event, playerId, db }) => await listDays(db, playerId, validQuery(event, schema).limit),
)
