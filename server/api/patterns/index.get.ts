import { patternsOf } from '../../database/queries/patterns'

/** The player's own patterns. */
export default forPlayer(async ({ playerId, db }) => await patternsOf(db, playerId))
