import { cautionsFor } from '#core/coach/cautions'
import { daysIn } from '#core/coach/days'
import { minutesPlayed } from '#core/coach/pass'
import { comingDays } from '#core/coach/coming-days'
import { passesOfDay } from '#core/coach/record'
import { planSession } from '#core/coach/session'
import { songProgress } from '#core/coach/song-plan'
import { showPass } from '#core/coach/stairs'
import Joi from 'joi'
import { playerDay, songsInWork } from '../../database/queries/coach'
import { playerSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<{ at?: Date, minutes?: number, song?: string }>({
  at: nowSchema, minutes: Joi.number().integer().min(5).max(180), song: Joi.string().guid({ version: 'uuidv4' }),
})
/** Songs whose reviews are looked after. */
const MOST_SONGS = 6

/** The session of the day as it stands now: planned anew from everything played so far. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { at = new Date(), minutes: asked, song } = checkedQuery(event, schema)
  const settings = await playerSettings(db, playerId)
  if (!settings) throw notThere('this player')
  const [dayOf, nowMs] = [daysIn(settings.timeZone), at.getTime()]
  const day = dayOf(nowMs)
  const [said, ids] = await Promise.all([playerDay(db, playerId, day), songsInWork(db, playerId, MOST_SONGS, song)])
  const songs = (await Promise.all(ids.map(id => songOf(playerId, id)))).flatMap(one => one ?? [])
  const today = songs.flatMap(one => passesOfDay(one.record, day, dayOf)).sort((a, b) => a.atMs - b.atMs)
  const played = minutesPlayed(today)
  const minutes = asked ?? said?.minutes ?? settings.sessionMinutes
  const skipped = said?.skipped ?? []
  const items = planSession(songs, { minutes: Math.max(0, minutes - played), nowMs, skipped: skipped.map(one => one.id), dayOf })
  const main = songs[0]
  return {
    day, minutes, played, skipped, note: said?.note ?? '',
    items: items.map(({ what, ...item }) => {
      const its = songs.find(one => one.songId === item.songId)
      return { ...item, what: what && its ? { ...showPass(its.plan, what), partId: partOf(its, what.stretch) } : undefined }
    }),
    cautions: cautionsFor(today, nowMs),
    coming: comingDays(songs, nowMs, 7, dayOf),
    songs: songs.map(({ songId, title, plan, record, targetDate }) => ({ id: songId, title, targetDate, progress: songProgress(plan, record.standing) })),
    main: main ? { id: main.songId, title: main.title, targetDate: main.targetDate, targetShare: main.targetShare, ...forecastOf(main, dayOf, nowMs) } : null,
  }
})
