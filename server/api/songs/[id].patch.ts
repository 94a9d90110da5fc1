import { PROPOSAL } from '#core/parts/propose'
import Joi from 'joi'
import { updateSong, type SongChange } from '../../database/queries/songs'

const schema = Joi.object<SongChange>({
  title: Joi.string().trim().min(1).max(300),
  composer: Joi.string().trim().allow('').max(300),
  edition: Joi.string().trim().allow('').max(60),
  archived: Joi.boolean(),
  targetDate: daySchema.allow(null),
  targetShare: Joi.number().min(0.3).max(1.2),
  /** The proposal of parts that the player has taken or declined. */
  proposal: Joi.number().integer().min(1).max(PROPOSAL),
}).min(1)

/** Changes a song's title, composer or goal; puts it away (its passes stay in the Logbook) or takes it back. */
export default defineEventHandler(async (event) => {
  if (!await updateSong(database(), await requirePlayerId(event), checkedId(event), await checkedBody(event, schema))) throw notFound('this song')
  return sendNoContent(event)
})
