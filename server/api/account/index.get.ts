import { ownAccount } from '../../use-cases/own-account'

/** The player's own account, and how much is kept of them. */
export default forPlayer(async ({ playerId, db }) => await ownAccount(db, playerId))
