import Joi from 'joi'
import { changeRemark } from '../../../database/queries/passes'

const schema = Joi.object<{ remark: string }>({ remark: Joi.string().trim().allow('').max(2000).required() })

/** Keeps the player's own words on a pass. */
export default defineEventHandler(async (event) => {
  const [playerId, id, { remark }] = [await requirePlayerId(event), checkedId(event), await checkedBody(event, schema)]
  if (!await changeRemark(database(), playerId, id, remark)) throw notFound('this pass')
  return sendNoContent(event)
})
