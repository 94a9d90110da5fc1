import { nowSchema } from '#shared/utils/settings-schema'
import { partOf } from '../../../domain/part-of'
import { daysIn } from '#core/coach/days'
import { passesOfDay } from '#core/coach/record'
import { reachedShares, stairsOf } from '#core/coach/stairs'
import Joi from 'joi'
import { playerSettings } from '../../../database/queries/accounts'
import { notThere } from '../../../use-cases/refusal'

const schema = Joi.object<{ at?: Date }>({ at: nowSchema })

/** A song in a line: its stairs drawn small, how far it is, and what comes next. */
export default forPlayer(async ({ event, playerId, db }) => {
  const [id, { at = new Date() }] = [validId(event), validQuery(event, schema)]
  const [song, settings] = await Promise.all([songOf(playerId, id), playerSettings(db, playerId)])
  if (!song) throw notThere('this song')
  const dayOf = daysIn(settings?.timeZone ?? 'UTC')
  const stairs = stairsOf(song.plan, song.record.standing, passesOfDay(song.record, dayOf(at.getTime()), dayOf))
  const { next, progress } = stairs
  return {
    parts: reachedShares(stairs),
    progress,
    next: next ?? null,
    partId: next ? (partOf(song, next.stretch) ?? null) : null,
  }
})
