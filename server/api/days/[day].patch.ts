import { daySchema } from '#shared/utils/settings-schema'
import { itemSchema } from '#core/coach/date-schemas'
import type { SessionItemName } from '#core/coach/session'
import Joi from 'joi'
import { changeDay } from '../../database/queries/coach'

interface DayChange {
  minutes?: number
  note?: string
  skip?: { id: string; what: SessionItemName }
  unskip?: string
}

const schema = Joi.object<DayChange>({
  minutes: Joi.number().integer().min(5).max(180),
  note: Joi.string().allow('').max(4000),
  skip: Joi.object({ id: Joi.string().max(200).required(), what: itemSchema.required() }),
  unskip: Joi.string().max(200),
}).min(1)

/** Changes a day: how long the session is, what is skipped of it, what the player says of it. */
export default forPlayer(async ({ event, playerId, db }) => {
  const day = validParameter(event, 'day', daySchema)
  const { skip, ...change } = await validBody(event, schema)
  return await changeDay(db, playerId, day, {
    ...change,
    ...(skip ? { skipped: { ...skip, at: new Date().toISOString() } } : {}),
  })
})
