import { arrangementForHearing } from '../../database/queries/arrangements'
import { notThere } from '../../use-cases/refusal'

/** The notes of a song for recognition, and its parts. The document is passed through as text. */
export default forPlayer(async ({ event, playerId, db }) => {
  const found = await arrangementForHearing(db, playerId, validId(event))
  if (!found) throw notThere('this arrangement')
  setResponseHeader(event, 'content-type', 'application/json')
  return `{"parts":${JSON.stringify(found.parts)},"arrangement":${found.document}}`
})
