import type { SongChoices, SongFormat } from '#core/formats/read-score'
import type { Arrangement } from '#core/music/arrangement'
import type { SongOrigin } from '#core/formats/song-origin'
import { insertSong } from '../database/queries/songs'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { notThere, Refusal } from './refusal'

/**
 * A song as it comes: its bytes, what the file is called, what the player decided, the song it is an edition of, and
 * whether it was played here.
 */
export interface IncomingSong {
  bytes: Uint8Array
  name: string
  choices: SongChoices
  edition?: { of: string; name: string }
  isPlayed?: boolean
}

const originOf = (format: SongFormat, { patterns }: SongChoices, isPlayed = false): SongOrigin =>
  isPlayed
    ? { kind: 'played' }
    : format === 'chord chart'
      ? { kind: 'chart', ...(patterns ? { patterns } : {}) }
      : { kind: 'file' }

/**
 * Reads a song, proposes its parts and keeps it, all or nothing. Throws a Refusal that says what in the file cannot be
 * read and where.
 */
export async function importSong(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  { bytes, name, choices, edition, isPlayed }: IncomingSong,
  gone?: AbortSignal,
): Promise<{ id: string; title: string; warnings: Arrangement['warnings'] }> {
  const read = await heavy.run(ownerId, 'song', { bytes, name, choices }, gone)
  if ('refused' in read) throw new Refusal(422, read.refused)
  gone?.throwIfAborted()
  const { score, parts, format } = read
  const id = await insertSong(db, ownerId, score, parts, { edition, origin: originOf(format, choices, isPlayed) })
  if (!id) throw notThere('the song that this is an edition of')
  return { id, title: score.title, warnings: score.warnings }
}
