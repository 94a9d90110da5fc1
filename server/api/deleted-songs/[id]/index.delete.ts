import { eraseSong } from '../../../database/queries/songs'
import { notThere } from '../../../use-cases/refusal'

/** Deletes a deleted song for good, with its passes and takes. */
export default forPlayer(async ({ event, playerId, db }) => {
  if (!(await eraseSong(db, playerId, validId(event)))) throw notThere('this song')
  return sendNoContent(event)
})
