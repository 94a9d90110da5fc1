import { daySchema } from '#shared/utils/settings-schema'
import { PRACTICE_ROLES } from '#core/coach/session'
import { PROPOSAL } from '#core/parts/propose'
import Joi from 'joi'
import { updateSong, type SongChange } from '../../database/queries/songs'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<SongChange>({
  title: Joi.string().trim().min(1).max(300),
  composer: Joi.string().trim().allow('').max(300),
  edition: Joi.string().trim().allow('').max(60),
  archived: Joi.boolean(),
  /** What it is in a day. */
  role: Joi.string().valid(...PRACTICE_ROLES),
  targetDate: daySchema.allow(null),
  targetShare: Joi.number().min(0.3).max(1.2),
  /** The proposal of parts that the player has taken or declined. */
  proposal: Joi.number().integer().min(1).max(PROPOSAL),
}).min(1)

/**
 * Changes a song's title, composer, goal or place in the day; puts it away (its passes stay in the Logbook) or takes it
 * back.
 */
export default forPlayer(async ({ event, playerId, db }) => {
  if (!(await updateSong(db, playerId, validId(event), await validBody(event, schema)))) throw notThere('this song')
  return sendNoContent(event)
})
