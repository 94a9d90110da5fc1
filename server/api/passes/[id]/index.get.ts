import { passAssessment } from '../../../database/queries/passes'

/** The whole assessment of a pass. */
export default defineEventHandler(async (event) => {
  const assessment = await passAssessment(database(), await requirePlayerId(event), checkedId(event))
  if (!assessment) throw notFound('this pass')
  return assessment
})
