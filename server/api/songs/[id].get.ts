import { nowSchema } from '#shared/utils/settings-schema'
import { forecastOf } from '../../domain/song-forecast'
import { daysIn } from '#core/coach/days'
import { passesOfDay } from '#core/coach/record'
import { stairsOf } from '#core/coach/stairs'
import Joi from 'joi'
import { playerSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'
import { showSong } from '../../use-cases/show-song'

const schema = Joi.object<{ at?: Date }>({ at: nowSchema })

/** A song with its parts, its stairs, and where the player stands on them. */
export default forPlayer(async ({ event, playerId, db }) => {
  const [id, { at = new Date() }] = [validId(event), validQuery(event, schema)]
  const [song, coached, settings] = await Promise.all([
    showSong(db, workerPool(), playerId, id),
    songOf(playerId, id),
    playerSettings(db, playerId),
  ])
  if (!song || !coached) throw notThere('this song')
  const dayOf = daysIn(settings?.timeZone ?? 'UTC')
  return {
    ...song,
    stairs: stairsOf(coached.plan, coached.record.standing, passesOfDay(coached.record, dayOf(at.getTime()), dayOf)),
    forecast: forecastOf(coached, dayOf, at.getTime()),
  }
})
