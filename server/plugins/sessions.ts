import { database } from '../database/connection'
import { endSession } from '../database/queries/sessions'

/** Sessions begin and end in the database: what a cookie says is asked there. */
export default defineNitroPlugin(() => {
  sessionHooks.hook('clear', async session => {
    if (session.secure) await endSession(database(), session.secure.sessionId)
  })
  sessionHooks.hook('fetch', async (session, event) => {
    const { user, secure } = session
    // A session is not ended because the database is away.
    if (user && !(await isCurrent(event, user, secure?.sessionId).catch(() => true))) delete session.user
  })
})
