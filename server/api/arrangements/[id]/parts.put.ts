import { faultOf, MAX_PARTS } from '#core/parts/edit'
import Joi from 'joi'
import { arrangementById } from '../../../database/queries/arrangements'
import { replaceParts, type SavedPart } from '../../../database/queries/parts'
import { notThere, Refusal, unsaved } from '../../../use-cases/refusal'

const like = idSchema.allow(null)
const schema = Joi.object<{ parts: SavedPart[] }>({
  parts: Joi.array()
    .items(
      Joi.object({
        id: idSchema,
        name: Joi.string().trim().min(1).max(120).required(),
        section: Joi.string().trim().min(1).max(120),
        from: quartersSchema.required(),
        to: quartersSchema.required(),
        ownLikeness: Joi.object({ right: like, left: like }),
      }),
    )
    .min(1)
    .max(MAX_PARTS)
    .unique('id', { ignoreUndefined: true })
    .required(),
})

/** Puts these parts, in this order, in the place of the arrangement's parts. */
export default forPlayer(async ({ event, playerId, db }) => {
  const id = validId(event)
  const { parts } = await validBody(event, schema)
  const arrangement = await arrangementById(db, playerId, id)
  if (!arrangement) throw notThere('this arrangement')
  const fault = faultOf(arrangement.document, parts)
  if (fault) throw new Refusal(422, fault)
  const refusal = await replaceParts(db, playerId, id, parts)
  if (refusal) throw unsaved(refusal)
  return sendNoContent(event)
})
