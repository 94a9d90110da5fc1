import { withHandsSwapped, withRoles } from '#core/formats/roles'
import type { ReadScore } from '#core/formats/musicxml/read'
import { UnusableInput } from '#core/formats/unusable'
import type { VoiceChoice } from '#core/music/voice'
import Joi from 'joi'
import { arrangementById, insertVersion } from '../../../database/queries/songs'

const schema = Joi.object<{ voices: VoiceChoice, swapHands: boolean }>({ voices: voicesSchema.default({}), swapHands: Joi.boolean().default(false) })

/** Decides again who plays the song's parts or tracks, or turns the hands round, and saves the result as its next version. Answers with its id and number. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const id = checkedId(event)
  const { voices, swapHands } = await checkedBody(event, schema)
  const base = await arrangementById(database(), playerId, id)
  if (!base) throw notFound('this arrangement')
  const before: ReadScore = { arrangement: base.document, musicXml: base.musicXml }
  let score: ReadScore
  try {
    const given = withRoles(before, voices)
    score = swapHands ? withHandsSwapped(given) : given
  }
  catch (error) {
    if (error instanceof UnusableInput || error instanceof RangeError) throw createError({ statusCode: 422, message: error.message })
    throw error
  }
  if (score === before) return { id, version: base.version }
  const saved = await insertVersion(database(), playerId, id, score)
  if (typeof saved === 'string') throw refused(saved)
  setResponseStatus(event, 201)
  return saved
})
