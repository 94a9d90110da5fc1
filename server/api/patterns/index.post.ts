import { patternSchema } from '#core/patterns/read-documents'
import { insertPattern, MAX_PATTERNS } from '../../database/queries/patterns'
import { Refusal } from '../../use-cases/refusal'

/** Keeps a pattern of the player's own. Answers with its id. */
export default forPlayer(async ({ event, playerId, db }) => {
  const id = await insertPattern(db, playerId, await validBody(event, patternSchema))
  if (!id) throw new Refusal(409, `at most ${MAX_PATTERNS} patterns of your own can be kept; delete one first`)
  setResponseStatus(event, 201)
  return { id }
})
