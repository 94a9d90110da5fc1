import { nowSchema } from '#shared/utils/settings-schema'
import Joi from 'joi'
import { planToday } from '../../use-cases/plan-today'

const schema = Joi.object<{ at?: Date; minutes?: number; song?: string }>({
  at: nowSchema,
  minutes: Joi.number().integer().min(5).max(180),
  song: idSchema,
})

/** The session of the day as it stands now, planned again from everything played so far. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { at = new Date(), minutes, song } = validQuery(event, schema)
  return await planToday(db, playerId, { at, minutes, song }, async id => await songOf(playerId, id))
})
