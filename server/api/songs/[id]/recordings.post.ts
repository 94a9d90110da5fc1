import { randomUUID } from 'node:crypto'
import { setImmediate } from 'node:timers/promises'
import { readTake } from '#core/formats/midi/read-take'
import { UnusableInput } from '#core/formats/unusable'
import { arrangementEnd, type Hands } from '#core/music/arrangement'
import { wholePassage } from '#core/music/passage'
import { ZERO } from '#core/music/quarters'
import Joi from 'joi'
import { playerSettings } from '../../../database/queries/players'
import { arrangementOfSong } from '../../../database/queries/songs'
import { insertPass } from '../../../database/queries/passes'
import { judgePass } from '../../../use-cases/judge-pass'
import { judgedPass, type PlayedPass } from '../../../use-cases/keep-pass'

const schema = Joi.object<{ hands: Hands }>({ hands: Joi.string().valid('right', 'left', 'both').default('both') })

/** More than any song for two hands; assessed in about two seconds. */
const MOST_NOTES = 20_000

/** Takes a Standard MIDI File of the whole song, played freely, and keeps it as a pass. Answers with the pass's id. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const { hands } = checkedQuery(event, schema)
  const found = await arrangementOfSong(database(), playerId, checkedId(event))
  if (!found) throw notFound('this song')
  const bytes = await readRawBody(event, false)
  if (!bytes || bytes.length === 0) throw createError({ statusCode: 400, message: 'the file is empty; a MIDI file was expected' })
  let take
  try {
    take = readTake(new Uint8Array(bytes))
  }
  catch (error) {
    if (error instanceof UnusableInput) throw createError({ statusCode: 422, message: error.message })
    throw error
  }
  if (take.notes.length === 0) throw createError({ statusCode: 422, message: 'the MIDI file has no notes' })
  if (take.notes.length > MOST_NOTES) throw createError({ statusCode: 422, message: `the MIDI file has ${take.notes.length} notes; at most ${MOST_NOTES} are assessed` })
  const settings = await playerSettings(database(), playerId)
  const id = randomUUID()
  const last = take.notes.reduce((latest, note) => Math.max(latest, note.onsetMs + note.durationMs), 0)
  const played: PlayedPass = {
    id, ownerId: playerId, arrangementId: found.id, partName: '', stretch: { from: ZERO, to: arrangementEnd(found.document) },
    passage: wholePassage(found.document, hands), mode: 'free', hands, startedAt: new Date(), lengthMs: Math.min(last - Math.min(0, take.notes[0]!.onsetMs), 86_400_000),
    offsetMs: 0, strictness: settings?.strictness ?? 'normal', take,
  }
  const judged = judgePass(found.document, played)
  // Whoever has stopped it meanwhile does not want it kept; that they have gone is heard between two tasks.
  await setImmediate()
  if (event.node.res.closed) return
  await insertPass(database(), judgedPass(found.document, played, judged))
  setResponseStatus(event, 201)
  return { id }
})
