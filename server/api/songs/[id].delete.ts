import { deleteSong } from '../../database/queries/songs'
import { notThere } from '../../use-cases/refusal'

/** Deletes a song. It can be brought back for some days; then it goes for good, with its passes and takes. */
export default forPlayer(async ({ event, playerId, db }) => {
  if (!(await deleteSong(db, playerId, validId(event)))) throw notThere('this song')
  return sendNoContent(event)
})
