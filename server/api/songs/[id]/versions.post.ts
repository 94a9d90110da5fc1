import Joi from 'joi'
import { copyAsVersion } from '../../../database/queries/songs'

const schema = Joi.object<{ edition: string }>({ edition: Joi.string().trim().min(1).max(60).required() })

/** Makes another version of a song, as it stands, to be simplified or extended. Answers with the new song's id. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const { edition } = await checkedBody(event, schema)
  const id = await copyAsVersion(database(), playerId, checkedId(event), edition)
  if (!id) throw notFound('this song')
  setResponseStatus(event, 201)
  return { id }
})
