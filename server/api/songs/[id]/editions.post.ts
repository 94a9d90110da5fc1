import Joi from 'joi'
import { notThere } from '../../../use-cases/refusal'
import { copyAsEdition } from '../../../use-cases/song-for-work'

const schema = Joi.object<{ edition: string }>({ edition: Joi.string().trim().min(1).max(60).required() })

/** Makes another edition of a song, as it stands, to be simplified or extended. Answers with the new song's id. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { edition } = await checkedBody(event, schema)
  const id = await copyAsEdition(db, playerId, checkedId(event), edition)
  if (!id) throw notThere('this song')
  setResponseStatus(event, 201)
  return { id }
})
