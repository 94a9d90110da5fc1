import Joi from 'joi'
import { listPasses } from '../../database/queries/passes'

const schema = Joi.object<{ limit: number, before?: Date }>({
  limit: Joi.number().integer().min(1).max(500).default(100),
  before: Joi.date().iso(),
})

export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const { limit, before } = checkedQuery(event, schema)
  return await listPasses(database(), playerId, limit, before)
})
