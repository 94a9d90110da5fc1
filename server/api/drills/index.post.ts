import { recipeSchema } from '#core/patterns/read-documents'
import { makeDrill } from '../../use-cases/make-drill'

/** Makes a drill from its recipe and keeps it. Answers with its id and that of its first part. */
export default forPlayer(async ({ event, playerId, db, gone }) => {
  const drill = await makeDrill(db, heavyWork(), playerId, await checkedBody(event, recipeSchema), gone)
  setResponseStatus(event, 201)
  return drill
})
