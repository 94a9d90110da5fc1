import { reviewPass } from '../../../use-cases/review-pass'
import { notThere } from '../../../use-cases/refusal'

/** A pass with its assessment and the music it is about. */
export default forPlayer(async ({ event, playerId, db }) => {
  const review = await reviewPass(db, workerPool(), playerId, validId(event))
  if (!review) throw notThere('this pass')
  return review
})
