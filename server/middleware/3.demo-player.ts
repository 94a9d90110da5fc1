import { demoPlayer } from '../database/queries/players'

/** In demo mode, and only from this machine, a visitor without a session becomes the demo's player. */
export default defineEventHandler(async (event) => {
  if (!isDemoMode() || !isLoopback(event) || event.path.startsWith('/_nuxt/')) return
  const session = await getUserSession(event)
  if (session.user) return
  const player = await demoPlayer(database())
  if (player) await setUserSession(event, { user: { id: player.id, name: player.name, isDemo: true } })
})
