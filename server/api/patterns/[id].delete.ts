import { deletePattern } from '../../database/queries/patterns'
import { notThere } from '../../use-cases/refusal'

/** Takes a pattern of the player's own away; what was made with it stays. */
export default forPlayer(async ({ event, playerId, db }) => {
  if (!(await deletePattern(db, playerId, validId(event)))) throw notThere('this pattern')
  return sendNoContent(event)
})
