import { nowSchema } from '#shared/utils/settings-schema'
import { daysIn } from '#core/coach/days'
import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { daysPlayed, songTotals, tempoReached } from '../../database/queries/logbook'
import { playerSettings } from '../../database/queries/accounts'
import { partNames } from '../../database/queries/parts'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<{ song?: string; part?: string; hands?: Hands; from?: Date }>({
  song: idSchema,
  part: idSchema,
  hands: Joi.string().valid('right', 'left', 'both'),
  from: nowSchema,
})

/** What the Logbook draws: days, tempos and songs; of a song that is asked for, its parts to choose from. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { song, part, hands, from } = validQuery(event, schema)
  const settings = await playerSettings(db, playerId)
  if (!settings) throw notThere('this player')
  const filter = { songId: song, partId: part, hands }
  const dayOf = daysIn(settings.timeZone)
  const fromDay = from && dayOf(from.getTime())
  const [days, tempos, songs, parts] = await Promise.all([
    daysPlayed(db, playerId, filter, fromDay),
    tempoReached(db, playerId, filter, fromDay),
    songTotals(db, playerId),
    song ? partNames(db, playerId, song) : [],
  ])
  return { today: dayOf(Date.now()), days, tempos, songs, parts }
})
