import Joi from 'joi'
import { importSong } from '../../use-cases/import-song'

const schema = Joi.string().valid(...SHIPPED_SONGS.map(song => song.file))

/** Takes a song that comes with the program among the player's songs. Answers with its id. */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const file = validParameter(event, 'file', schema)
  const { id } = await importSong(
    db,
    workerPool(),
    playerId,
    { bytes: await shippedFile(file), name: file, choices: {} },
    signal,
  )
  setResponseStatus(event, 201)
  return { id }
})
