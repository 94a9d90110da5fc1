import type { SongChoices } from '#core/formats/read-score'
import Joi from 'joi'
import { importSong } from '../../use-cases/import-song'

const schema = Joi.object<{ name: string; choices?: string; editionOf?: string; edition: string; played: boolean }>({
  name: Joi.string().max(300).default('Untitled'),
  /** JSON of what the player decided in the preview. */
  choices: Joi.string().max(12_000),
  /** The song that this is another edition of, and what the edition is called. */
  editionOf: idSchema,
  edition: Joi.string().trim().max(60).default('other edition'),
  /** Whether it was played here, not brought as a file. */
  played: Joi.boolean().default(false),
})

/**
 * Takes the bytes of a song (MusicXML, MIDI, chord chart or ChordPro) with what the player decided about it, and
 * answers with the new song's id and the reader's warnings.
 */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const { name, choices, editionOf, edition, played } = validQuery(event, schema)
  const decided = choices === undefined ? {} : validJsonText<SongChoices>(choices, choicesSchema, 'choices')
  const bytes = await uploadedFile(event, 'a MusicXML score, a MIDI file or a chord chart')
  const song = await importSong(
    db,
    workerPool(),
    playerId,
    {
      bytes,
      name,
      choices: decided,
      isPlayed: played,
      ...(editionOf ? { edition: { of: editionOf, name: edition } } : {}),
    },
    signal,
  )
  setResponseStatus(event, 201)
  return song
})
