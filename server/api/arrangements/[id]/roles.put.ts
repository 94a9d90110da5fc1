import type { VoiceChoice } from '#core/music/voice'
import Joi from 'joi'
import { reviseArrangement } from '../../../use-cases/revise-arrangement'

const schema = Joi.object<{ voices: VoiceChoice; swapHands: boolean }>({
  voices: voicesSchema.default({}),
  swapHands: Joi.boolean().default(false),
})

/**
 * Reassigns the song's parts or tracks, or swaps the hands, and saves the result as its next revision. Answers with its
 * id and number.
 */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const id = validId(event)
  const saved = await reviseArrangement(db, workerPool(), playerId, id, await validBody(event, schema), signal)
  if (saved.id !== id) setResponseStatus(event, 201)
  return saved
})
