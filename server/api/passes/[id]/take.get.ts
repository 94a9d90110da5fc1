import { passTake } from '../../../database/queries/passes'

/** The take as a Standard MIDI File. */
export default defineEventHandler(async (event) => {
  const id = checkedId(event)
  const midi = await passTake(database(), await requirePlayerId(event), id)
  if (!midi) throw notFound('this take')
  setResponseHeaders(event, { 'content-type': 'audio/midi', 'content-disposition': `attachment; filename="half-step-${id.slice(0, 8)}.mid"` })
  return midi
})
