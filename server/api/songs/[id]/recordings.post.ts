import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { keepRecording } from '../../../use-cases/keep-recording'

const schema = Joi.object<{ hands: Hands }>({ hands: Joi.string().valid('right', 'left', 'both').default('both') })

/** Takes a Standard MIDI File of the whole song, played freely, and keeps it as a pass. Answers with the pass's id. */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const { hands } = validQuery(event, schema)
  const songId = validId(event)
  const id = await keepRecording(
    db,
    workerPool(),
    playerId,
    songId,
    { bytes: await uploadedFile(event, 'a MIDI file'), hands },
    signal,
  )
  setResponseStatus(event, 201)
  return { id }
})
