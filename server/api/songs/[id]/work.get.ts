import { notThere } from '../../../use-cases/refusal'
import { songForWork } from '../../../use-cases/song-for-work'

/** A song's newest arrangement with its MusicXML and parts, for the Workbench. */
export default forPlayer(async ({ event, playerId, db }) => {
  const song = await songForWork(db, playerId, validId(event))
  if (!song) throw notThere('this song')
  return song
})
