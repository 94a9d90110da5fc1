import { passTake } from '../../../database/queries/passes'
import { notThere } from '../../../use-cases/refusal'

/** The take as a Standard MIDI File. */
export default forPlayer(async ({ event, playerId, db }) => {
  const id = validId(event)
  const midi = await passTake(db, playerId, id)
  if (!midi) throw notThere('this take')
  setResponseHeaders(event, {
    'content-type': 'audio/midi',
    'content-disposition': `attachment; filename="half-step-${id.slice(0, 8)}.mid"`,
  })
  return midi
})
