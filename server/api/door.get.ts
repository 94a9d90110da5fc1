import { registrationFor } from '../use-cases/registration'

/** Who may make an account here, for the page that lets in. */
export default forAnybody(async ({ event, db }) => ({
  ...(await registrationFor(db, registrationPolicyOf(event))),
  isOwn: isOwnMode(),
}))
