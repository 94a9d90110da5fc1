import type { Take } from '#core/ear/take'
import { LIMITS } from '#core/music/limits'
import Joi from 'joi'

/** A take may begin before its pass and ends with it, ms. */
const EARLIEST_MS = -60_000

/** What a field must be, and the words for it. */
interface Field {
  is: (value: unknown) => boolean
  words: string
  optional?: true
}

const within = (least: number, most: number): Field => ({
  is: value => typeof value === 'number' && value >= least && value <= most,
  words: `a number from ${least} to ${most}`,
})
const whole = (least: number, most: number): Field => ({
  is: value => Number.isInteger(value) && (value as number) >= least && (value as number) <= most,
  words: `a whole number from ${least} to ${most}`,
})
const MOMENT = within(EARLIEST_MS, LIMITS.takeMs)
const LISTS: Record<string, Record<string, Field>> = {
  notes: {
    onsetMs: MOMENT,
    durationMs: within(0, LIMITS.takeMs),
    pitch: whole(0, 127),
    velocity: whole(1, 127),
    unreleased: { is: value => value === true, words: 'true', optional: true },
  },
  pedals: { atMs: MOMENT, down: { is: value => typeof value === 'boolean', words: 'true or false' } },
}

/**
 * The first thing that is not as it should be in a take, with its place; undefined when all is. Checked by hand: there
 * may be a great many notes.
 */
function faultOf(take: unknown): string | undefined {
  if (typeof take !== 'object' || take === null || Object.keys(take).some(key => !(key in LISTS)))
    return '"take" must be an object with the lists "notes" and "pedals"'
  for (const [name, fields] of Object.entries(LISTS)) {
    const list: unknown = (take as Record<string, unknown>)[name]
    if (!Array.isArray(list)) return `"take.${name}" must be a list`
    if (list.length > LIMITS.takeNotes)
      return `"take.${name}" has ${list.length} entries; at most ${LIMITS.takeNotes} are kept`
    for (let index = 0; index < list.length; index++) {
      const fault = faultOfEntry(list[index], fields)
      if (fault !== undefined) return `"take.${name}[${index}]${fault}`
    }
  }
  return undefined
}

function faultOfEntry(entry: unknown, fields: Record<string, Field>): string | undefined {
  if (typeof entry !== 'object' || entry === null) return '" must be an object'
  const known = entry as Record<string, unknown>
  for (const key in known) if (!(key in fields)) return `.${key.slice(0, 40)}" is not known`
  for (const [key, field] of Object.entries(fields)) {
    if (known[key] === undefined && field.optional) continue
    if (!field.is(known[key])) return `.${key}" must be ${field.words}`
  }
  return undefined
}

export const takeSchema = Joi.any().custom((take: unknown, helpers) => {
  const fault = faultOf(take)
  return fault === undefined ? (take as Take) : helpers.message({ custom: `${fault}` })
}) as Joi.Schema<Take>
