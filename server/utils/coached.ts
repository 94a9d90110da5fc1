import { database } from '../database/connection'
import { randomUUID } from 'node:crypto'
import { coachedSong } from '../use-cases/coached-song'

/**
 * A player's song with its plan and where they stand; undefined when it is not there. What another build made of the
 * passes is not taken over; while the program is being worked on, nothing is.
 */
export const songOf = async (playerId: string, songId: string) =>
  await coachedSong(
    database(),
    workerPool(),
    playerId,
    songId,
    import.meta.dev ? randomUUID() : useRuntimeConfig().app.buildId,
  )
