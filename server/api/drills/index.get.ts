import { listSongs } from '../../database/queries/songs'

/** The player's drills, the last practised first, with their recipes. */
export default forPlayer(async ({ playerId, db }) => await listSongs(db, playerId, { isDrills: true }))
