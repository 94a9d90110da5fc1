import type { COACH_DEFAULTS, CoachSettings } from '#core/coach/settings'
import { EXPERIENCES, GATES, PRACTICE_ORDERS, TURN_MINUTES } from '#core/coach/settings'
import { STRICTNESSES } from '#core/ear/parameters'
import { MIN_REACH, MAX_REACH } from '#core/hands/ergonomics'
import Joi from 'joi'
import { timestampSchema } from '#core/coach/date-schemas'
import { isSameTrigger, STAND_ACTIONS, type Controls } from './controls'
import { MAX_DELAYS, NOTATION_SIZES, OTHER_STAVES, type KeyboardDelay, type PlayerSettings } from './settings'
import { MIX_CHANNELS } from './sound'

export { daySchema, timestampSchema, nowSchema } from '#core/coach/date-schemas'

/** What a player sets of the coach; every field may be left out. */
export const coachSchema = Joi.object<Partial<CoachSettings>>({
  experience: Joi.string().valid(...EXPERIENCES),
  school: Joi.string().valid(...PRACTICE_ORDERS),
  firstHand: Joi.string().valid('harder', 'right', 'left', 'melody', 'chords'),
  gate: Joi.valid(...GATES),
  ownTimeGate: Joi.number().integer().min(0).max(10),
  tempo: Joi.string().valid('steps', 'adaptive'),
  steps: Joi.number().integer().min(3).max(8),
  joining: Joi.string().valid('forward', 'pairs'),
  turnMinutes: Joi.number().valid(...TURN_MINUTES),
  chordNames: Joi.boolean(),
  counting: Joi.boolean(),
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
export const controlsSchema = Joi.object<Controls>(
  Object.fromEntries(STAND_ACTIONS.map(action => [action, trigger])),
).custom((controls: Controls, helpers) => {
  const given = Object.values(controls)
  return given.some((one, index) => given.slice(index + 1).some(other => isSameTrigger(one, other)))
    ? helpers.message({ custom: '{{#label}} gives one key or pedal two things to do' })
    : controls
})

/** A zone that this server knows. */
export const timeZoneSchema = Joi.string()
  .max(60)
  .custom((zone: string, helpers) => {
    try {
      new Intl.DateTimeFormat('en', { timeZone: zone })
      return zone
    } catch {
      return helpers.message({ custom: '{{#label}} is no time zone' })
    }
  })

const levelSchema = Joi.object({ volume: Joi.number().min(0).max(1).required(), muted: Joi.boolean().required() })
const soundSchema = Joi.object({
  mix: Joi.object(Object.fromEntries(MIX_CHANNELS.map(channel => [channel, levelSchema]))),
  click: Joi.object({
    on: Joi.string().valid('beats', 'bars', 'backbeats', 'none').required(),
    within: Joi.valid('auto', 1, 2, 3, 4).required(),
    dropOut: Joi.object({
      sounding: Joi.number().integer().min(1).max(16).required(),
      silent: Joi.number().integer().min(1).max(16).required(),
    }),
  }),
  heard: Joi.string().valid('ask', 'always', 'off'),
  keysSound: Joi.boolean(),
  midiIsSilent: Joi.boolean(),
})
const delaySchema = Joi.object<KeyboardDelay>({
  keyboard: Joi.string().trim().min(1).max(120).required(),
  outputMs: Joi.number().min(0).max(5000).required(),
  delayMs: Joi.number().integer().min(-500).max(1000).required(),
  spreadMs: Joi.number().min(0).max(1000).required(),
  measuredAt: timestampSchema.required(),
})

/** What a player may set; each field may be left out. */
export const settingsSchema = Joi.object<Partial<PlayerSettings>>({
  strictness: Joi.string().valid(...STRICTNESSES),
  keyboardDelayMs: Joi.number().integer().min(-500).max(500),
  reachHalfSteps: Joi.number().integer().min(MIN_REACH).max(MAX_REACH),
  noteNames: Joi.string().valid('letters', 'solfege', 'german'),
  coach: coachSchema,
  sessionMinutes: Joi.number().integer().min(5).max(180),
  controls: controlsSchema,
  stand: Joi.object({ size: Joi.string().valid(...NOTATION_SIZES), otherStaves: Joi.string().valid(...OTHER_STAVES) }),
  sound: soundSchema,
  delays: Joi.array().items(delaySchema).max(MAX_DELAYS),
  timeZone: timeZoneSchema,
}).min(1)
