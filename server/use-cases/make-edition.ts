import type { SongOrigin } from '#core/formats/song-origin'
import { playerSettings } from '../database/queries/accounts'
import { arrangementText } from '../database/queries/arrangements'
import { draftOf, partsInOrder } from '../database/queries/parts'
import { insertSong, songOfPlayer } from '../database/queries/songs'
import type { EditionMaking } from '../domain/edition-making'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { notThere, Refusal } from './refusal'

const originOf = (of: string, making: EditionMaking): SongOrigin => {
  switch (making.kind) {
    case 'pattern':
      return { kind: 'pattern', of, hand: making.hand, pattern: making.pattern }
    case 'level':
      return { kind: 'level', of, level: making.level, ...(making.pattern ? { pattern: making.pattern } : {}) }
    case 'key':
      return { kind: 'key', of, halfSteps: making.halfSteps }
  }
}

/**
 * Another edition of a song, made from its newest arrangement: a hand's pattern, a level, another key. Its parts lie
 * where the song's do. Gives its id and first part. Throws a Refusal.
 */
export async function makeEdition(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  songId: string,
  name: string,
  making: EditionMaking,
  gone?: AbortSignal,
): Promise<{ id: string; warnings: unknown[] }> {
  const [row, settings] = await Promise.all([songOfPlayer(db, ownerId, songId), playerSettings(db, ownerId)])
  if (!row || !settings) throw notThere('this song')
  const [base, parts] = await Promise.all([
    arrangementText(db, ownerId, row.arrangementId),
    partsInOrder(db, row.arrangementId),
  ])
  if (!base) throw notThere('this song')
  const made = await heavy.run(
    ownerId,
    'edition',
    { text: { document: base.document, musicXml: base.musicXml }, making, reach: settings.reachHalfSteps },
    gone,
  )
  if ('refused' in made) throw new Refusal(422, made.refused)
  gone?.throwIfAborted()
  const id = await insertSong(
    db,
    ownerId,
    { ...made, title: row.song.title },
    parts.map(part => draftOf(part)),
    { edition: { of: songId, name, proposal: row.song.proposal }, origin: originOf(songId, making) },
  )
  if (!id) throw notThere('this song')
  return { id, warnings: made.warnings }
}
