import { partWithArrangement, stretchOf } from '../../database/queries/parts'
import { notThere } from '../../use-cases/refusal'

/** A part with its song's arrangement, the MusicXML to play from, and where the part lies in them. */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const row = await partWithArrangement(db, playerId, validId(event))
  if (!row) throw notThere('this part')
  const { id: arrangementId, document: arrangement, musicXml } = row.arrangement
  return {
    id: row.part.id,
    name: row.part.name,
    stretch: stretchOf(row.part),
    song: { id: row.song.id, title: row.song.title },
    arrangementId,
    arrangement,
    ...(await workerPool().run(playerId, 'stand', { score: { arrangement, musicXml } }, signal)),
  }
})
