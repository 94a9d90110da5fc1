import { patternSchema } from '#core/patterns/read-documents'
import { LEVELS } from '#core/patterns/editions'
import Joi from 'joi'
import type { EditionMaking } from '../../../domain/edition-making'
import { makeEdition } from '../../../use-cases/make-edition'
import { notThere } from '../../../use-cases/refusal'
import { copyAsEdition } from '../../../use-cases/song-for-work'

const makingSchema = Joi.alternatives().conditional('.kind', {
  switch: [
    {
      is: 'pattern',
      then: Joi.object({
        kind: Joi.required(),
        hand: Joi.string().valid('right', 'left').required(),
        pattern: patternSchema.required(),
        stretch: Joi.object({ from: quartersSchema.required(), to: quartersSchema.required() }),
      }),
    },
    {
      is: 'level',
      then: Joi.object({
        kind: Joi.required(),
        level: Joi.number()
          .valid(...LEVELS)
          .required(),
        pattern: patternSchema,
      }),
    },
    {
      is: 'key',
      then: Joi.object({ kind: Joi.required(), halfSteps: Joi.number().integer().min(-12).max(12).required() }),
    },
  ],
  otherwise: Joi.object({ kind: Joi.string().valid('pattern', 'level', 'key').required() }),
}) as Joi.Schema<EditionMaking>

const schema = Joi.object<{ edition: string; making?: EditionMaking }>({
  edition: Joi.string().trim().min(1).max(60).required(),
  making: makingSchema,
})

/**
 * Makes another edition of a song: as it stands, to be simplified or extended; with a pattern for a hand, in all of it
 * or a stretch; at a level; or in another key. Answers with the new song's id and, of what was made, what it leaves
 * out.
 */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const { edition, making } = await validBody(event, schema)
  const songId = validId(event)
  const made = making
    ? await makeEdition(db, workerPool(), playerId, songId, edition, making, signal)
    : { id: await copyAsEdition(db, playerId, songId, edition) }
  if (!made.id) throw notThere('this song')
  setResponseStatus(event, 201)
  return { ...made, id: made.id }
})
