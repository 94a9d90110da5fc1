import { songOfPlayer } from '../../../database/queries/songs'
import { notThere } from '../../../use-cases/refusal'

/**
 * A song with its other editions, parts and fingers in one file, to be given to somebody else: nothing that was
 * practised is in it.
 */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const id = validId(event)
  const row = await songOfPlayer(db, playerId, id)
  if (!row) throw notThere('this song')
  await sendArchive(event, playerId, { kind: 'songs', song: id }, row.song.title, signal)
})
