import { daySchema } from '#shared/utils/settings-schema'
import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { sessionsPlayed } from '../../database/queries/logbook'

const schema = Joi.object<{ limit: number; before?: string; song?: string; part?: string; hands?: Hands }>({
  limit: Joi.number().integer().min(1).max(60).default(14),
  /** Days before this one. */
  before: daySchema,
  song: idSchema,
  part: idSchema,
  hands: Joi.string().valid('right', 'left', 'both'),
})

/** Days of practice with what was played on each, newest first. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { limit, before, song, part, hands } = validQuery(event, schema)
  return await sessionsPlayed(db, playerId, { songId: song, partId: part, hands }, limit, before)
})
