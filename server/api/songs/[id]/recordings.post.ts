import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { keepRecording } from '../../../use-cases/keep-recording'

const schema = Joi.object<{ hands: Hands }>({ hands: Joi.string().valid('right', 'left', 'both').default('both') })

/** Takes a Standard MIDI File of the whole song, played freely, and keeps it as a pass. Answers with the pass's id. */
export default forPlayer(async ({ event, playerId, db, gone }) => {
  const { hands } = checkedQuery(event, schema)
  const songId = checkedId(event)
  const id = await keepRecording(
    db,
    heavyWork(),
    playerId,
    songId,
    { bytes: await checkedFile(event, 'a MIDI file'), hands },
    gone,
  )
  setResponseStatus(event, 201)
  return { id }
})
