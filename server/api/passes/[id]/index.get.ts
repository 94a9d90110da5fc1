import { currentPass } from '../../../use-cases/review-pass'
import { notThere } from '../../../use-cases/refusal'

/** The whole assessment of a pass, as this version of the ear judges it. */
export default forPlayer(async ({ event, playerId, db }) => {
  const pass = await currentPass(db, workerPool(), playerId, validId(event))
  if (!pass) throw notThere('this pass')
  return pass.document
})
