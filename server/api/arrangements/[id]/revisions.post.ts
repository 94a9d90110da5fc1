import type { Change } from '#core/edit/change'
import { LIMITS } from '#core/music/limits'
import Joi from 'joi'
import { reviseArrangement } from '../../../use-cases/revise-arrangement'

const schema = Joi.object<{ changes: Change[] }>({
  changes: Joi.array().items(changeSchema).min(1).max(LIMITS.changes).required(),
})

/**
 * Makes corrections on an arrangement and saves the result as the song's next revision. Answers with its id and number.
 */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const id = validId(event)
  const saved = await reviseArrangement(db, workerPool(), playerId, id, await validBody(event, schema), signal)
  setResponseStatus(event, 201)
  return saved
})
