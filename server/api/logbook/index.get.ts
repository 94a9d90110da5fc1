import { daysIn } from '#core/coach/days'
import type { Hands } from '#core/music/arrangement'
import Joi from 'joi'
import { daysPlayed, songTotals, tempoReached } from '../../database/queries/logbook'
import { playerSettings } from '../../database/queries/players'
import { partNames } from '../../database/queries/songs'

const uuid = Joi.string().guid({ version: 'uuidv4' })
const schema = Joi.object<{ song?: string, part?: string, hands?: Hands, from?: Date }>({
  song: uuid, part: uuid, hands: Joi.string().valid('right', 'left', 'both'), from: nowSchema,
})

/** What the Logbook draws: days, tempos and songs; of a song that is asked for, its parts to choose from. */
export default defineEventHandler(async (event) => {
  const [playerId, { song, part, hands, from }] = [await requirePlayerId(event), checkedQuery(event, schema)]
  const settings = await playerSettings(database(), playerId)
  if (!settings) throw notFound('this player')
  const filter = { songId: song, partId: part, hands }
  const dayOf = daysIn(settings.timeZone)
  const fromDay = from && dayOf(from.getTime())
  const [days, tempos, songs, parts] = await Promise.all([
    daysPlayed(database(), playerId, filter, fromDay), tempoReached(database(), playerId, filter, fromDay), songTotals(database(), playerId),
    song ? partNames(database(), playerId, song) : [],
  ])
  return { today: dayOf(Date.now()), days, tempos, songs, parts }
})
