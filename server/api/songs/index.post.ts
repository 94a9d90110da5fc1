import { readSong, type SongChoices } from '#core/formats/read-score'
import { UnusableInput } from '#core/formats/unusable'
import { proposeParts } from '#core/parts/propose'
import Joi from 'joi'
import { insertSong } from '../../database/queries/songs'

const schema = Joi.object<{ name: string, choices?: string, versionOf?: string, edition: string }>({
  name: Joi.string().max(300).default('Untitled'),
  /** JSON of what the player decided in the preview. */
  choices: Joi.string().max(12_000),
  /** The song that this is another version of, and what the version is called. */
  versionOf: Joi.string().guid({ version: 'uuidv4' }),
  edition: Joi.string().trim().max(60).default('other version'),
})

/**
 * Takes the bytes of a song (MusicXML, MIDI, chord chart or ChordPro) with what the player decided about it, and answers with the new
 * song's id and the reader's warnings.
 */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const { name, choices, versionOf, edition } = checkedQuery(event, schema)
  const decided = choices === undefined ? {} : checkedText<SongChoices>(choices, choicesSchema, 'choices')
  const bytes = await readRawBody(event, false)
  if (!bytes || bytes.length === 0) throw createError({ statusCode: 400, message: 'the file is empty; a MusicXML score, a MIDI file or a chord chart was expected' })
  try {
    const score = readSong(new Uint8Array(bytes), name, decided)
    const id = await insertSong(database(), playerId, score, proposeParts(score.arrangement), versionOf ? { of: versionOf, edition } : undefined)
    if (!id) throw notFound('the song that this is a version of')
    setResponseStatus(event, 201)
    return { id, title: score.arrangement.title, warnings: score.arrangement.warnings }
  }
  catch (error) {
    if (error instanceof UnusableInput) throw createError({ statusCode: 422, message: error.message })
    throw error
  }
})
