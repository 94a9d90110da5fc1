import { standScore } from '#core/formats/musicxml/stand-score'
import { partWithArrangement, stretchOf } from '../../database/queries/songs'

/** A part with its song's arrangement, the MusicXML to play from, and where the part lies in them. */
export default defineEventHandler(async (event) => {
  const row = await partWithArrangement(database(), await requirePlayerId(event), checkedId(event))
  if (!row) throw notFound('this part')
  return {
    id: row.part.id, name: row.part.name, stretch: stretchOf(row.part),
    song: { id: row.song.id, title: row.song.title },
    arrangementId: row.arrangement.id, arrangement: row.arrangement.document, musicXml: standScore({ arrangement: row.arrangement.document, musicXml: row.arrangement.musicXml }),
  }
})
