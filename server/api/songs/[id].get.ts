import { songWithParts } from '../../database/queries/songs'

export default defineEventHandler(async (event) => {
  const song = await songWithParts(database(), await requirePlayerId(event), checkedId(event))
  if (!song) throw notFound('this song')
  return song
})
