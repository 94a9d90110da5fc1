import { errorMap } from '#core/coach/error-map'
import { daysIn } from '#core/coach/days'
import Joi from 'joi'
import type { Hands } from '#core/music/arrangement'
import { failuresOf } from '../../database/queries/logbook'
import { playerSettings } from '../../database/queries/players'
import { arrangementOfSong, stretchOf } from '../../database/queries/songs'

const uuid = Joi.string().guid({ version: 'uuidv4' })
const schema = Joi.object<{ song: string, part?: string, hands?: Hands }>({ song: uuid.required(), part: uuid, hands: Joi.string().valid('right', 'left', 'both') })
/** More than half a year of a song; older ones say little of where it is hard now. */
const MOST_PASSES = 5000

/** Where a song fails: the share of passes over each bar that failed there, by day. */
export default defineEventHandler(async (event) => {
  const [playerId, { song, part, hands }] = [await requirePlayerId(event), checkedQuery(event, schema)]
  const [arrangement, settings] = await Promise.all([arrangementOfSong(database(), playerId, song), playerSettings(database(), playerId)])
  if (!arrangement || !settings) throw notFound('this song')
  const rows = await failuresOf(database(), playerId, { songId: song, partId: part, hands }, MOST_PASSES)
  return errorMap(arrangement.document, rows.map(({ startedAt, failed, ...edges }) => ({ atMs: startedAt.getTime(), stretch: stretchOf(edges), failed: failed ?? [] })), daysIn(settings.timeZone))
})
