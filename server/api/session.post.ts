import { playerByName } from '../database/queries/players'

/** Signs a player in. The same answer for an unknown name and a wrong password. */
export default defineEventHandler(async (event) => {
  const { name, password } = await checkedBody(event, credentialsSchema)
  const player = await playerByName(database(), name.trim())
  if (!player?.passwordHash || !await verifyPassword(player.passwordHash, password)) {
    throw createError({ statusCode: 401, message: 'no player has this name and password' })
  }
  await replaceUserSession(event, { user: { id: player.id, name: player.name, isDemo: false } })
  return { name: player.name }
})
