import { daySchema, nowSchema } from '#shared/utils/settings-schema'
import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { listPasses } from '../../database/queries/passes'
import { refreshPasses } from '../../use-cases/review-pass'

const schema = Joi.object<{ limit: number; before?: Date; day?: string; song?: string; part?: string; hands?: Hands }>({
  limit: Joi.number().integer().min(1).max(500).default(100),
  before: nowSchema,
  day: daySchema,
  song: idSchema,
  part: idSchema,
  hands: Joi.string().valid('right', 'left', 'both'),
})

export default forPlayer(async ({ event, playerId, db }) => {
  const { limit, before, day, song, part, hands } = validQuery(event, schema)
  await refreshPasses(db, workerPool(), playerId)
  return await listPasses(db, playerId, limit, { songId: song, partId: part, hands, to: before, day })
})
