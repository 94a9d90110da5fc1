import { toText } from '../domain/score-text'
import { arrangementById } from '../database/queries/arrangements'
import { draftOf, partsInOrder } from '../database/queries/parts'
import { insertSong, songOfPlayer } from '../database/queries/songs'
import type { Database } from '../database/connection'

/** What the Workbench needs of a song: its newest arrangement, engraved, and its parts as drafts. */
export async function songForWork(db: Database, ownerId: string, songId: string) {
  const row = await songOfPlayer(db, ownerId, songId)
  if (!row) return undefined
  const [arrangement, parts] = await Promise.all([
    arrangementById(db, ownerId, row.arrangementId),
    partsInOrder(db, row.arrangementId),
  ])
  if (!arrangement) return undefined
  return {
    id: row.song.id,
    title: row.song.title,
    arrangementId: arrangement.id,
    revision: arrangement.revision,
    arrangement: arrangement.document,
    musicXml: arrangement.musicXml,
    proposal: row.song.proposal,
    parts: parts.map(part => ({ ...draftOf(part), ownLikeness: part.ownLikeness })),
  }
}

/** Another edition of a song, to be changed: its newest arrangement and parts as a song of their own. Gives its id. */
export async function copyAsEdition(
  db: Database,
  ownerId: string,
  songId: string,
  edition: string,
): Promise<string | undefined> {
  const song = await songForWork(db, ownerId, songId)
  if (!song) return undefined
  const score = toText({ arrangement: { ...song.arrangement, title: song.title }, musicXml: song.musicXml })
  return await insertSong(
    db,
    ownerId,
    score,
    song.parts.map(({ name, section, from, to }) => ({ name, section, from, to })),
    { edition: { of: songId, name: edition, proposal: song.proposal }, origin: { kind: 'copy', of: songId } },
  )
}
