import { overBars } from '#core/coach/over-bars'
import Joi from 'joi'
import type { Hands } from '#core/music/arrangement'
import { timesOfNotes } from '../../database/queries/logbook'
import { arrangementOfSong } from '../../database/queries/arrangements'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<{ song: string; part?: string; hands?: Hands }>({
  song: idSchema.required(),
  part: idSchema,
  hands: Joi.string().valid('right', 'left', 'both'),
})
/** Newest passes with the click that describe the present. */
const NEWEST = 20

/**
 * How early or late each note of a song comes of late: the median of the newest passes and its quartiles, ms, + is
 * late; `at` is its place counted in bars.
 */
export default forPlayer(async ({ event, playerId, db }) => {
  const { song, part, hands } = validQuery(event, schema)
  const arrangement = await arrangementOfSong(db, playerId, song)
  if (!arrangement) throw notThere('this song')
  return overBars(arrangement.document, await timesOfNotes(db, playerId, { songId: song, partId: part, hands }, NEWEST))
})
