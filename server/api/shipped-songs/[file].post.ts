import Joi from 'joi'
import { takeSongIn } from '../../use-cases/take-song-in'

const schema = Joi.string().valid(...SHIPPED_SONGS.map(song => song.file))

/** Takes a song that comes with the program among the player's songs. Answers with its id. */
export default forPlayer(async ({ event, playerId, db, gone }) => {
  const file = checkedParameter(event, 'file', schema)
  const { id } = await takeSongIn(
    db,
    heavyWork(),
    playerId,
    { bytes: await shippedFile(file), name: file, choices: {} },
    gone,
  )
  setResponseStatus(event, 201)
  return { id }
})
