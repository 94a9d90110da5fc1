import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { listPasses } from '../../database/queries/passes'
import { refreshPasses } from '../../use-cases/review-pass'

const schema = Joi.object<{ limit: number, before?: Date, day?: string, song?: string, part?: string, hands?: Hands }>({
  limit: Joi.number().integer().min(1).max(500).default(100),
  before: Joi.date().iso(),
  day: daySchema,
  song: Joi.string().guid({ version: 'uuidv4' }), part: Joi.string().guid({ version: 'uuidv4' }), hands: Joi.string().valid('right', 'left', 'both'),
})

export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const { limit, before, day, song, part, hands } = checkedQuery(event, schema)
  await refreshPasses(database(), playerId)
  return await listPasses(database(), playerId, limit, { songId: song, partId: part, hands, to: before, day })
})
