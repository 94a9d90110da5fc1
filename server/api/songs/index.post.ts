import { readMusicXml } from '#core/formats/musicxml/read'
import { UnusableInput } from '#core/formats/unusable'
import { proposeParts } from '#core/parts/propose'
import { insertSong } from '../../database/queries/songs'

/** Takes the bytes of a MusicXML file (.musicxml, .xml, .mxl) and answers with the new song's id and the reader's warnings. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const bytes = await readRawBody(event, false)
  if (!bytes || bytes.length === 0) throw createError({ statusCode: 400, message: 'the file is empty; a MusicXML score was expected' })
  try {
    const score = readMusicXml(new Uint8Array(bytes))
    const id = await insertSong(database(), playerId, score, proposeParts(score.arrangement))
    setResponseStatus(event, 201)
    return { id, title: score.arrangement.title, warnings: score.arrangement.warnings }
  }
  catch (error) {
    if (error instanceof UnusableInput) throw createError({ statusCode: 422, message: error.message })
    throw error
  }
})
