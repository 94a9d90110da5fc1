import Joi from 'joi'
import { changeDay } from '../../database/queries/coach'

interface DayChange { minutes?: number, note?: string, skip?: { id: string, text: string }, unskip?: string }

const schema = Joi.object<DayChange>({
  minutes: Joi.number().integer().min(5).max(180),
  note: Joi.string().allow('').max(4000),
  skip: Joi.object({ id: Joi.string().max(200).required(), text: Joi.string().max(300).required() }),
  unskip: Joi.string().max(200),
}).min(1)

/** Changes a day: how long the session is, what is skipped of it, what the player says of it. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const day = checkedParameter(event, 'day', daySchema)
  const { skip, ...change } = await checkedBody(event, schema)
  return await changeDay(database(), playerId, day, { ...change, ...(skip ? { skipped: { ...skip, at: new Date().toISOString() } } : {}) })
})
