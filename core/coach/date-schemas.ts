import Joi from 'joi'
import { ITEM_KINDS, type SessionItemName } from './session'

/** The accepted years of days and timestamps. */
const YEARS = { first: '1990-01-01', last: '2199-12-31' } as const

/** A day of the calendar, YYYY-MM-DD. */
export const daySchema = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/, 'YYYY-MM-DD')
  .custom((day: string, helpers) => {
    const noon = new Date(`${day}T12:00:00Z`)
    const isDay =
      !Number.isNaN(noon.getTime()) && noon.toISOString().startsWith(day) && day >= YEARS.first && day <= YEARS.last
    return isDay ? day : helpers.message({ custom: '{{#label}} is no day of the calendar' })
  })

/** A timestamp on the player's clock: the player's device says what time it is. */
export const nowSchema = Joi.date().iso().min(YEARS.first).max(YEARS.last)

/** A timestamp as text, ISO 8601. */
export const timestampSchema = Joi.string()
  .max(40)
  .custom((text: string, helpers) =>
    nowSchema.validate(text).error || !/^\d{4}-/.test(text)
      ? helpers.message({ custom: '{{#label}} is no moment (ISO 8601)' })
      : text,
  )

const position = Joi.object({
  bar: Joi.number().min(-10_000).max(100_000).required(),
  beat: Joi.number().min(0).max(1_000).required(),
})
/** The place of a span in the printed score. */
export const placeSchema = Joi.object({
  from: position.required(),
  to: position.required(),
  toBarEnd: Joi.boolean().required(),
})
/** The name of a session item. */
export const itemSchema = Joi.object<SessionItemName>({
  item: Joi.string()
    .valid(...ITEM_KINDS)
    .required(),
  unit: Joi.object({
    kind: Joi.string().valid('part', 'seam', 'pair', 'chain', 'song').required(),
    names: Joi.array().max(2).items(Joi.string().max(200)).required(),
  }).required(),
  place: placeSchema,
})
