import { demoAccount } from '../database/queries/accounts'

/** In demo mode, and only from this machine, a visitor who is nobody becomes the demo's player. */
export default defineEventHandler(async (event) => {
  if (!isDemoMode() || !isLoopback(event) || event.path.startsWith('/_nuxt/') || event.path.startsWith('/api/health')) return
  try {
    const { user, secure } = await getUserSession(event)
    if (user && await isCurrent(event, user, secure?.sessionId)) return
    const account = await demoAccount(database())
    if (!account) return
    await beginDemoFor(event, account)
  }
  catch (error) {
    // The page says by itself that the database is away.
    if (!isDatabaseAway(error)) throw error
    return
  }
  // The page rendered for this very request asks for the session too, with the cookies that came in; the first of a name counts,
  // and an empty session may have come in.
  const fresh = splitCookiesString(String(getResponseHeader(event, 'set-cookie') ?? '')).map(cookie => cookie.split(';')[0]).join('; ')
  event.node.req.headers.cookie = [fresh, event.node.req.headers.cookie].filter(Boolean).join('; ')
})
