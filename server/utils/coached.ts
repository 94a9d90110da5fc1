import { coachedSong } from '../database/queries/coach'

/** A player's song with its plan and where they stand; undefined when it is not there. What an earlier build made of the passes is not taken over. */
export const songOf = async (playerId: string, songId: string) => await coachedSong(database(), playerId, songId, useRuntimeConfig().app.buildId)
