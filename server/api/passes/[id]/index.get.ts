import { currentPass } from '../../../use-cases/review-pass'

/** The whole assessment of a pass, as this version of the ear judges it. */
export default defineEventHandler(async (event) => {
  const pass = await currentPass(database(), await requirePlayerId(event), checkedId(event))
  if (!pass) throw notFound('this pass')
  return pass.document
})
