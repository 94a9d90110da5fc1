import { database } from '../database/connection'
import { isDatabaseAway } from '../database/errors'
import { demoAccount, soleOpenAccount } from '../database/queries/accounts'

/**
 * Signs in a visitor at this machine who has no session: in demo mode the demo's player; where the program runs for
 * one's own use the only player, as long as they have no password.
 */
export default defineEventHandler(async event => {
  if (
    !(isDemoMode() || isOwnMode()) ||
    !isLoopback(event) ||
    event.path.startsWith('/_nuxt/') ||
    event.path.startsWith('/api/health')
  )
    return
  try {
    const { user, secure } = await getUserSession(event)
    if (user && (await isCurrent(event, user, secure?.sessionId))) return
    if (!(await letIn(event))) return
  } catch (error) {
    // The page says by itself that the database is away.
    if (!isDatabaseAway(error)) throw error
    return
  }
  // The page rendered for this very request asks for the session too, with the cookies that came in; the first of a
  // name counts, and an empty session may have come in.
  const fresh = splitCookiesString(String(getResponseHeader(event, 'set-cookie') ?? ''))
    .map(cookie => cookie.split(';')[0])
    .join('; ')
  event.node.req.headers.cookie = [fresh, event.node.req.headers.cookie].filter(Boolean).join('; ')
})

async function letIn(event: Parameters<typeof beginDemoFor>[0]): Promise<boolean> {
  const account = isDemoMode() ? await demoAccount(database()) : await soleOpenAccount(database())
  if (!account) return false
  if (isDemoMode()) await beginDemoFor(event, account)
  else await beginSessionFor(event, account, { isOpen: true })
  return true
}
