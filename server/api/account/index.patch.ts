import { renamingSchema } from '#shared/utils/credentials'
import { rename } from '../../use-cases/own-account'

/** Gives the player another name; every other session ends. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { isOpen, ...account } = await rename(db, playerId, (await validBody(event, renamingSchema)).name)
  await beginSessionFor(event, account, { isOpen })
  return { name: account.name }
})
