import { applyChange, ImpossibleChange, type Change } from '#core/edit/change'
import { ScoreDocument } from '#core/formats/musicxml/document'
import type { ReadScore } from '#core/formats/musicxml/read'
import Joi from 'joi'
import { arrangementById, insertVersion } from '../../../database/queries/songs'

/** A long evening's corrections; more are saved in several versions. */
const MOST_CHANGES = 2_000

const schema = Joi.object<{ changes: Change[] }>({
  changes: Joi.array().items(changeSchema).min(1).max(MOST_CHANGES).required(),
})

/** Makes corrections on an arrangement and saves the result as the song's next version. Answers with its id and number. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const id = checkedId(event)
  const { changes } = await checkedBody(event, schema)
  const base = await arrangementById(database(), playerId, id)
  if (!base) throw notFound('this arrangement')
  let score: ReadScore
  try {
    const document = changes.reduce((before, change) => applyChange(before, change), base.document)
    score = new ScoreDocument({ arrangement: base.document, musicXml: base.musicXml }).revised(document)
  }
  catch (error) {
    // A RangeError: positions that no note values can be written for.
    if (error instanceof ImpossibleChange || error instanceof RangeError) throw createError({ statusCode: 422, message: error.message })
    throw error
  }
  const saved = await insertVersion(database(), playerId, id, score)
  if (typeof saved === 'string') throw refused(saved)
  setResponseStatus(event, 201)
  return saved
})
