import { createPlayer } from '../../database/queries/players'

/** Makes a player's account and signs the player in. */
export default defineEventHandler(async (event) => {
  const { name, password } = await checkedBody(event, credentialsSchema)
  const player = await createPlayer(database(), name.trim(), await hashPassword(password))
  if (!player) throw createError({ statusCode: 409, message: `the name "${name}" is taken` })
  await replaceUserSession(event, { user: { id: player.id, name: player.name, isDemo: false } })
  setResponseStatus(event, 201)
  return { name: player.name }
})
