import { reviewPass } from '../../../use-cases/review-pass'

/** A pass with its assessment and the music it is about. */
export default defineEventHandler(async (event) => {
  const review = await reviewPass(database(), await requirePlayerId(event), checkedId(event))
  if (!review) throw notFound('this pass')
  return review
})
