import type { H3Event } from 'h3'
import Joi from 'joi'

const OPTIONS: Joi.ValidationOptions = { abortEarly: false, stripUnknown: false, errors: { wrap: { label: '"' } } }

/** The value as the schema allows it; otherwise a 400 whose message names each field and what was expected. */
function checked<T>(schema: Joi.Schema<T>, value: unknown, options: Joi.ValidationOptions): T {
  const result = schema.validate(value, { ...OPTIONS, ...options })
  if (result.error) {
    const details = result.error.details.slice(0, 5).map(detail => detail.message)
    throw createError({ statusCode: 400, statusMessage: 'Bad Request', message: details.join('; '), data: { details } })
  }
  return result.value
}

export async function checkedBody<T>(event: H3Event, schema: Joi.Schema<T>): Promise<T> {
  let body: unknown
  try {
    body = await readBody(event)
  }
  catch {
    throw createError({ statusCode: 400, message: 'the body is not valid JSON' })
  }
  return checked(schema, body, { convert: false })
}

export const checkedQuery = <T>(event: H3Event, schema: Joi.Schema<T>): T => checked(schema, getQuery(event), { convert: true })

/** JSON in a text field, as the schema allows it. */
export function checkedText<T>(text: string, schema: Joi.Schema<T>, label: string): T {
  let value: unknown
  try {
    value = JSON.parse(text)
  }
  catch {
    throw createError({ statusCode: 400, message: `"${label}" is not valid JSON` })
  }
  return checked(schema.label(label), value, { convert: false })
}

/** A parameter of the route, as the schema allows it. */
export const checkedParameter = (event: H3Event, name: string, schema: Joi.StringSchema): string =>
  checked<string>(schema.required().label(name), getRouterParam(event, name), {})

/** The uuid in the route's `[id]`. */
export const checkedId = (event: H3Event): string => checkedParameter(event, 'id', Joi.string().guid({ version: 'uuidv4' }))
