import { patternSchema } from '#core/patterns/read-documents'
import { updatePattern } from '../../database/queries/patterns'
import { notThere } from '../../use-cases/refusal'

/** Changes a pattern of the player's own; what was made with it stays as it is. */
export default forPlayer(async ({ event, playerId, db }) => {
  if (!(await updatePattern(db, playerId, validId(event), await validBody(event, patternSchema))))
    throw notThere('this pattern')
  return sendNoContent(event)
})
