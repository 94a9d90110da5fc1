import { demoPlayer } from '../database/queries/players'

/** In demo mode, and only from this machine, a visitor without a session becomes the demo's player. */
export default defineEventHandler(async (event) => {
  if (!isDemoMode() || !isLoopback(event) || event.path.startsWith('/_nuxt/')) return
  const session = await getUserSession(event)
  if (session.user) return
  const player = await demoPlayer(database())
  if (!player) return
  await setUserSession(event, { user: { id: player.id, name: player.name, isDemo: true } })
  // The page rendered for this very request asks for the session too, with the cookies that came in; the first of a name counts,
  // and an empty session may have come in.
  const fresh = splitCookiesString(String(getResponseHeader(event, 'set-cookie') ?? '')).map(cookie => cookie.split(';')[0]).join('; ')
  event.node.req.headers.cookie = [fresh, event.node.req.headers.cookie].filter(Boolean).join('; ')
})
