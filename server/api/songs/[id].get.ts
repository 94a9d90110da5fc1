import { daysIn } from '#core/coach/days'
import { stairsOf } from '#core/coach/stairs'
import Joi from 'joi'
import { coachedSong } from '../../database/queries/coach'
import { playerSettings } from '../../database/queries/players'
import { songWithParts } from '../../database/queries/songs'

const schema = Joi.object<{ at?: Date }>({ at: nowSchema })

/** A song with its parts, its stairs, and where the player stands on them. */
export default defineEventHandler(async (event) => {
  const [playerId, id, { at = new Date() }] = [await requirePlayerId(event), checkedId(event), checkedQuery(event, schema)]
  const [song, coached, settings] = await Promise.all([songWithParts(database(), playerId, id), coachedSong(database(), playerId, id), playerSettings(database(), playerId)])
  if (!song || !coached) throw notFound('this song')
  const dayOf = daysIn(settings?.timeZone ?? 'UTC')
  const today = coached.passes.filter(pass => dayOf(pass.atMs) === dayOf(at.getTime()))
  return { ...song, stairs: stairsOf(coached.plan, coached.standing, today), forecast: forecastOf(coached, dayOf, at.getTime()) }
})
