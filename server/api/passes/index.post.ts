import { timestampSchema } from '#shared/utils/settings-schema'
import { LIMITS } from '#core/music/limits'
import { STRICTNESSES } from '#core/ear/parameters'
import type { SentPass } from '#shared/utils/passes'
import Joi from 'joi'
import { keepPass } from '../../use-cases/keep-pass'

const schema = Joi.object<SentPass>({
  id: idSchema.required(),
  partId: idSchema.required(),
  hands: Joi.string().valid('right', 'left', 'both').required(),
  mode: Joi.string().valid('steady', 'own-time', 'free').default('steady'),
  stretch: Joi.object({ from: quartersSchema.required(), to: quartersSchema.required() }),
  isOwnSpot: Joi.boolean(),
  bpm: Joi.number().min(10).max(400).required(),
  startedAt: timestampSchema.required(),
  lengthMs: Joi.number().min(0).max(LIMITS.takeMs).required(),
  offsetMs: Joi.number().min(-5000).max(5000).required(),
  strictness: Joi.string()
    .valid(...STRICTNESSES)
    .default('normal'),
  take: takeSchema.required(),
})

/** Keeps one pass. Sent twice with the same id it is kept once; the answer is the same. */
export default forPlayer(async ({ event, playerId, db }) => {
  const sent = await validBody(event, schema)
  // Kept also when the page has been closed meanwhile: it was played.
  await keepPass(db, workerPool(), playerId, sent)
  setResponseStatus(event, 201)
  return { id: sent.id }
})
