import { DELETED_DAYS, deletedSongs } from '../../database/queries/songs'

/** Deleted songs that can still be brought back, and for how many days they can. */
export default forPlayer(async ({ playerId, db }) => ({ days: DELETED_DAYS, songs: await deletedSongs(db, playerId) }))
