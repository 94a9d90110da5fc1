import { daysIn } from '#core/coach/days'
import { passesOfDay } from '#core/coach/record'
import { stairsOf } from '#core/coach/stairs'
import Joi from 'joi'
import { playerSettings } from '../../database/queries/players'
import { songWithParts } from '../../database/queries/songs'

const schema = Joi.object<{ at?: Date }>({ at: nowSchema })

/** A song with its parts, its stairs, and where the player stands on them. */
export default defineEventHandler(async (event) => {
  const [playerId, id, { at = new Date() }] = [await requirePlayerId(event), checkedId(event), checkedQuery(event, schema)]
  const [song, coached, settings] = await Promise.all([songWithParts(database(), playerId, id), songOf(playerId, id), playerSettings(database(), playerId)])
  if (!song || !coached) throw notFound('this song')
  const dayOf = daysIn(settings?.timeZone ?? 'UTC')
  return { ...song, stairs: stairsOf(coached.plan, coached.record.standing, passesOfDay(coached.record, dayOf(at.getTime()), dayOf)), forecast: forecastOf(coached, dayOf, at.getTime()) }
})
