import { HANDS } from '#core/music/arrangement'
import { createHash } from 'node:crypto'
import { LRUCache } from 'lru-cache'
import { sectionRuns } from '#core/parts/edit'
import { GONE_PART } from '#core/words/parts'
import { arrangementDocument } from '../database/queries/arrangements'
import { learnedByKey } from '../database/queries/learned'
import { partsInOrder, stretchOf, type PartRow } from '../database/queries/parts'
import { editionsOf, songOfPlayer } from '../database/queries/songs'
import type { WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import type { SongNotes } from '../domain/song-notes'
import { askWithNotes } from './ask-with-notes'

const known = new LRUCache<string, SongNotes>({ max: 2_000 })

/**
 * A song with the parts of its newest arrangement, what each is like, and what was learned of it elsewhere. How far
 * each hand has come is the coach's to say.
 */
export async function showSong(db: Database, heavy: WorkerPool, ownerId: string, songId: string) {
  const row = await songOfPlayer(db, ownerId, songId)
  if (!row) return undefined
  const { song, arrangementId } = row
  const parts = await partsInOrder(db, arrangementId)
  const { parts: noted, ...notes } = await notesOf(db, heavy, ownerId, arrangementId, parts)
  const editions = await editionsOf(db, ownerId, song)
  const learned = await learnedByKey(
    db,
    ownerId,
    noted.flatMap(one => Object.values(one.keys)),
    songId,
  )
  const learnedWhere = ({ songId: other, partName, edition, songTitle }: (typeof learned)[number]) =>
    other === songId
      ? (partName ?? GONE_PART)
      : `${partName ?? GONE_PART} (${editions.some(one => one.id === other) ? edition || 'first edition' : songTitle})`
  return {
    id: song.id,
    title: song.title,
    composer: song.composer,
    arrangementId,
    archived: song.archivedAt !== null,
    edition: song.edition,
    role: song.role,
    origin: song.origin,
    targetDate: song.targetDate,
    targetShare: song.targetShare,
    editions,
    ...notes,
    sections: sectionRuns(parts.map(({ section }) => (section === null ? {} : { section }))).flatMap(
      ({ name }) => name ?? [],
    ),
    parts: parts.map((part, index) => {
      const { place, likeness, writtenBpm, notes: counts, keys } = noted[index]!
      return {
        id: part.id,
        name: part.name,
        section: part.section,
        place,
        likeness,
        targetBpm: Math.round(writtenBpm * song.targetShare),
        notes: counts,
        reached: HANDS.map(hands => {
          const some = learned.filter(one => one.key === keys[hands])
          const own = some.filter(one => one.partId === part.id)
          const best = (rows: typeof some) =>
            rows.reduce<(typeof some)[number] | undefined>(
              (most, one) => ((one.cleanBpm ?? 0) > (most?.cleanBpm ?? 0) ? one : most),
              undefined,
            )
          const [here, anywhere] = [best(own), best(some)]
          return {
            hands,
            key: keys[hands],
            passes: own.reduce((sum, one) => sum + one.passes, 0),
            cleanBpm: anywhere?.cleanBpm ?? null,
            ...(anywhere && (anywhere.cleanBpm ?? 0) > (here?.cleanBpm ?? 0) ? { from: learnedWhere(anywhere) } : {}),
          }
        }),
      }
    }),
  }
}

async function notesOf(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  arrangementId: string,
  rows: readonly PartRow[],
): Promise<SongNotes> {
  const parts = rows.map(part => ({ name: part.name, stretch: stretchOf(part), ownLikeness: part.ownLikeness }))
  const key = createHash('sha256')
    .update(JSON.stringify([arrangementId, parts]))
    .digest('base64url')
  let notes = known.get(key)
  if (!notes)
    known.set(
      key,
      (notes = await askWithNotes(
        async () => await arrangementDocument(db, arrangementId),
        async arrangement => await heavy.run(ownerId, 'songOverview', { arrangementId, parts, arrangement }),
      )),
    )
  return notes
}
