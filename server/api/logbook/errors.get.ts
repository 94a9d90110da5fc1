import { errorMap } from '#core/coach/error-map'
import { daysIn } from '#core/coach/days'
import Joi from 'joi'
import type { Hands } from '#core/music/arrangement'
import { failuresOf } from '../../database/queries/logbook'
import { playerSettings } from '../../database/queries/accounts'
import { arrangementOfSong } from '../../database/queries/arrangements'
import { stretchOf } from '../../database/queries/parts'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<{ song: string; part?: string; hands?: Hands }>({
  song: idSchema.required(),
  part: idSchema,
  hands: Joi.string().valid('right', 'left', 'both'),
})
/** More than half a year of a song; older ones say little of where it is hard now. */
const MAX_PASSES = 5000

/** Where a song fails: the share of passes over each bar that failed there, by day. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { song, part, hands } = validQuery(event, schema)
  const [arrangement, settings] = await Promise.all([
    arrangementOfSong(db, playerId, song),
    playerSettings(db, playerId),
  ])
  if (!arrangement || !settings) throw notThere('this song')
  const rows = await failuresOf(db, playerId, { songId: song, partId: part, hands }, MAX_PASSES)
  return errorMap(
    arrangement.document,
    rows.map(({ startedAt, failed, ...edges }) => ({
      atMs: startedAt.getTime(),
      stretch: stretchOf(edges),
      failed: failed ?? [],
    })),
    daysIn(settings.timeZone),
  )
})
