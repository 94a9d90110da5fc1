import { removeSong } from '../../database/queries/songs'

/** Puts a song away. Its passes stay in the Logbook. */
export default defineEventHandler(async (event) => {
  if (!await removeSong(database(), await requirePlayerId(event), checkedId(event))) throw notFound('this song')
  return sendNoContent(event)
})
