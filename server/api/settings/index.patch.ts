import { STRICTNESSES } from '#core/ear/parameters'
import { LEAST_REACH, MOST_REACH } from '#core/hands/ergonomics'
import Joi from 'joi'
import { changeSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<Partial<PlayerSettings>>({
  strictness: Joi.string().valid(...STRICTNESSES),
  keyboardDelayMs: Joi.number().integer().min(-500).max(500),
  reachHalfSteps: Joi.number().integer().min(LEAST_REACH).max(MOST_REACH),
  noteNames: Joi.string().valid('letters', 'solfege', 'german'),
  coach: coachSchema,
  sessionMinutes: Joi.number().integer().min(5).max(180),
  controls: controlsSchema,
  stand: Joi.object({ size: Joi.string().valid(...NOTATION_SIZES), otherStaves: Joi.string().valid(...OTHER_STAVES) }),
  timeZone: timeZoneSchema,
}).min(1)

/** Changes a player's settings; answers with all of them. What is given of the coach and of the Stand's look is changed, and the rest stays. */
export default forPlayer(async ({ event, playerId, db }) => {
  const settings = await changeSettings(db, playerId, await checkedBody(event, schema))
  if (!settings) throw notThere('this player')
  return settings
})
