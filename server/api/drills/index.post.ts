import { recipeSchema } from '#core/patterns/read-documents'
import { makeDrill } from '../../use-cases/make-drill'

/** Makes a drill from its recipe and keeps it. Answers with its id and that of its first part. */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const drill = await makeDrill(db, workerPool(), playerId, await validBody(event, recipeSchema), signal)
  setResponseStatus(event, 201)
  return drill
})
