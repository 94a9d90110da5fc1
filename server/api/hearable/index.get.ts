import { hearableSongs } from '../../database/queries/songs'

/** The songs that may be recognised when they are played: each with its newest notes by name only. */
export default forPlayer(async ({ playerId, db }) => await hearableSongs(db, playerId))
