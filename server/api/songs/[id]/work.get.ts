import { songForWork } from '../../../database/queries/songs'

/** A song's newest arrangement with its MusicXML and parts, for the Workbench. */
export default defineEventHandler(async (event) => {
  const song = await songForWork(database(), await requirePlayerId(event), checkedId(event))
  if (!song) throw notFound('this song')
  return song
})
