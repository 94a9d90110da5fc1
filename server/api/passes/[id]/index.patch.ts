import Joi from 'joi'
import { changeRemark } from '../../../database/queries/passes'
import { notThere } from '../../../use-cases/refusal'

const schema = Joi.object<{ remark: string }>({ remark: Joi.string().trim().allow('').max(2000).required() })

/** Keeps the player's own words on a pass. */
export default forPlayer(async ({ event, playerId, db }) => {
  const [id, { remark }] = [validId(event), await validBody(event, schema)]
  if (!(await changeRemark(db, playerId, id, remark))) throw notThere('this pass')
  return sendNoContent(event)
})
