import { undeleteSong } from '../../../database/queries/songs'
import { notThere } from '../../../use-cases/refusal'

/** Brings a deleted song back, as it was. */
export default forPlayer(async ({ event, playerId, db }) => {
  if (!(await undeleteSong(db, playerId, validId(event)))) throw notThere('this song')
  return sendNoContent(event)
})
