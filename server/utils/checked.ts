import type { H3Event } from 'h3'
import Joi from 'joi'
import { unplainTextIn } from '#core/music/plain-text'
import { Refusal } from '../use-cases/refusal'

const OPTIONS: Joi.ValidationOptions = { abortEarly: true, stripUnknown: false, errors: { wrap: { label: '"' } } }

/** The value as the schema allows it; otherwise a Refusal (400) that names the field and what was expected. */
function validate<T>(schema: Joi.Schema<T>, value: unknown, options: Joi.ValidationOptions): T {
  const unplain = unplainTextIn(value)
  if (unplain !== undefined)
    throw new Refusal(400, `"${unplain || 'value'}" has a control character or half a character in it`)
  const result = schema.validate(value, { ...OPTIONS, ...options })
  if (result.error) throw new Refusal(400, result.error.message.slice(0, 500))
  return result.value
}

export async function validBody<T>(event: H3Event, schema: Joi.Schema<T>): Promise<T> {
  let body: unknown
  try {
    body = JSON.parse((await readRawBody(event, 'utf8')) ?? '')
  } catch {
    throw new Refusal(400, 'the body is not valid JSON')
  }
  return validate(schema.required().label('body'), body, { convert: false })
}

export const validQuery = <T>(event: H3Event, schema: Joi.Schema<T>): T =>
  validate(schema, getQuery(event), { convert: true })

/** The bytes of an uploaded file. `expected` says what it should be. */
export async function uploadedFile(event: H3Event, expected: string): Promise<Uint8Array> {
  const bytes = await readRawBody(event, false)
  if (!bytes || bytes.length === 0) throw new Refusal(400, `the file is empty; ${expected} was expected`)
  return new Uint8Array(bytes)
}

/** JSON in a text field, as the schema allows it. */
export function validJsonText<T>(text: string, schema: Joi.Schema<T>, label: string): T {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new Refusal(400, `"${label}" is not valid JSON`)
  }
  return validate(schema.required().label(label), value, { convert: false })
}

/** A parameter of the route, as the schema allows it. */
export const validParameter = (event: H3Event, name: string, schema: Joi.StringSchema): string =>
  validate<string>(schema.required().label(name), getRouterParam(event, name), {})

/**
 * The id of something that is kept: made here or by the player's device (version 4), or following from what it was
 * called in an archive (version 5).
 */
export const idSchema = Joi.string().guid({ version: ['uuidv4', 'uuidv5'] })

/** The id in the route's `[id]`. */
export const validId = (event: H3Event): string => validParameter(event, 'id', idSchema)
