import { newcomers } from '../use-cases/open-door'

/** Who may make an account here, for the page that lets in. */
export default forAnybody(async ({ event, db }) => ({ ...(await newcomers(db, doorOf(event))), isOwn: isOwnMode() }))
