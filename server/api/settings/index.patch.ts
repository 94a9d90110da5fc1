import { STRICTNESSES } from '#core/ear/parameters'
import { LEAST_REACH, MOST_REACH } from '#core/hands/ergonomics'
import { MIX_CHANNELS } from '#shared/utils/sound'
import Joi from 'joi'
import { changeSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

const levelSchema = Joi.object({ volume: Joi.number().min(0).max(1).required(), muted: Joi.boolean().required() })
const soundSchema = Joi.object({
  mix: Joi.object(Object.fromEntries(MIX_CHANNELS.map(channel => [channel, levelSchema]))),
  click: Joi.object({
    on: Joi.string().valid('beats', 'bars', 'backbeats', 'none').required(), within: Joi.valid('auto', 1, 2, 3, 4).required(),
    dropOut: Joi.object({ sounding: Joi.number().integer().min(1).max(16).required(), silent: Joi.number().integer().min(1).max(16).required() }),
  }),
  heard: Joi.string().valid('ask', 'always', 'off'),
  keysSound: Joi.boolean(),
})
const delaySchema = Joi.object<KeyboardDelay>({
  keyboard: Joi.string().trim().min(1).max(120).required(), outputMs: Joi.number().min(0).max(5000).required(), delayMs: Joi.number().integer().min(-500).max(1000).required(),
  spreadMs: Joi.number().min(0).max(1000).required(), measuredAt: momentSchema.required(),
})

const schema = Joi.object<Partial<PlayerSettings>>({
  strictness: Joi.string().valid(...STRICTNESSES),
  keyboardDelayMs: Joi.number().integer().min(-500).max(500),
  reachHalfSteps: Joi.number().integer().min(LEAST_REACH).max(MOST_REACH),
  noteNames: Joi.string().valid('letters', 'solfege', 'german'),
  coach: coachSchema,
  sessionMinutes: Joi.number().integer().min(5).max(180),
  controls: controlsSchema,
  stand: Joi.object({ size: Joi.string().valid(...NOTATION_SIZES), otherStaves: Joi.string().valid(...OTHER_STAVES) }),
  sound: soundSchema,
  delays: Joi.array().items(delaySchema).max(MOST_DELAYS),
  timeZone: timeZoneSchema,
}).min(1)

/** Changes a player's settings; answers with all of them. What is given of the coach, of the Stand's look and of the sound is changed, and the rest stays. */
export default forPlayer(async ({ event, playerId, db }) => {
  const settings = await changeSettings(db, playerId, await checkedBody(event, schema))
  if (!settings) throw notThere('this player')
  return settings
})
