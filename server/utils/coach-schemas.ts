import type { COACH_DEFAULTS, CoachSettings } from '#core/coach/settings'
import { GATES, SCHOOLS, TURN_MINUTES } from '#core/coach/settings'
import Joi from 'joi'

/** The years that days and moments lie in. */
const YEARS = { first: '1990-01-01', last: '2199-12-31' } as const

/** A day of the calendar, YYYY-MM-DD. */
export const daySchema = Joi.string().pattern(/^\d{4}-\d{2}-\d{2}$/, 'YYYY-MM-DD').custom((day: string, helpers) => {
  const noon = new Date(`${day}T12:00:00Z`)
  const isDay = !Number.isNaN(noon.getTime()) && noon.toISOString().startsWith(day) && day >= YEARS.first && day <= YEARS.last
  return isDay ? day : helpers.message({ custom: '{{#label}} is no day of the calendar' })
})

/** A moment on the player's clock: the player's device says what time it is. */
export const nowSchema = Joi.date().iso().min(YEARS.first).max(YEARS.last)

/** The same as text, ISO 8601. */
export const momentSchema = Joi.string().max(40).custom((text: string, helpers) => nowSchema.validate(text).error || !/^\d{4}-/.test(text) ? helpers.message({ custom: '{{#label}} is no moment (ISO 8601)' }) : text)

/** What a player sets of the coach; every field may be left out. */
export const coachSchema = Joi.object<Partial<CoachSettings>>({
  school: Joi.string().valid(...SCHOOLS),
  firstHand: Joi.string().valid('harder', 'right', 'left', 'melody', 'chords'),
  gate: Joi.valid(...GATES),
  ownTimeGate: Joi.number().integer().min(0).max(10),
  tempo: Joi.string().valid('steps', 'adaptive'),
  steps: Joi.number().integer().min(3).max(8),
  joining: Joi.string().valid('forward', 'pairs'),
  turnMinutes: Joi.number().valid(...TURN_MINUTES),
  chordNames: Joi.boolean(), counting: Joi.boolean(),
  fingering: Joi.string().valid('strict', 'free'),
  advance: Joi.boolean(),
  restBars: Joi.number().integer().min(0).max(2),
  warmUp: Joi.boolean(),
} satisfies Record<keyof typeof COACH_DEFAULTS, Joi.Schema>)

const trigger = Joi.alternatives(
  Joi.object({ key: Joi.number().integer().min(0).max(127).required() }),
  Joi.object({ pedal: Joi.number().valid(64, 66, 67).required() }),
)
/** Piano keys and pedals given to actions; no key may do two things. */
export const controlsSchema = Joi.object<Controls>(Object.fromEntries(STAND_ACTIONS.map(action => [action, trigger])))
  .custom((controls: Controls, helpers) => {
    const given = Object.values(controls)
    return given.some((one, index) => given.slice(index + 1).some(other => isSameTrigger(one, other))) ? helpers.message({ custom: '{{#label}} gives one key or pedal two things to do' }) : controls
  })

/** A zone that this server knows. */
export const timeZoneSchema = Joi.string().max(60).custom((zone: string, helpers) => {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone })
    return zone
  }
  catch {
    return helpers.message({ custom: '{{#label}} is no time zone' })
  }
})
