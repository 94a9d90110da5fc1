import { roleParts, standScore } from '#core/formats/musicxml/stand-score'
import { partWithArrangement, stretchOf } from '../../database/queries/songs'

/** A part with its song's arrangement, the MusicXML to play from, and where the part lies in them. */
export default defineEventHandler(async (event) => {
  const row = await partWithArrangement(database(), await requirePlayerId(event), checkedId(event))
  if (!row) throw notFound('this part')
  const { document: arrangement, musicXml } = row.arrangement
  const standXml = standScore({ arrangement, musicXml })
  return {
    id: row.part.id, name: row.part.name, stretch: stretchOf(row.part),
    song: { id: row.song.id, title: row.song.title },
    arrangementId: row.arrangement.id, arrangement, musicXml: standXml, roleParts: roleParts(standXml, arrangement),
  }
})
