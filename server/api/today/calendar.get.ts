import { nowSchema } from '#shared/utils/settings-schema'
import { comingDays } from '#core/coach/coming-days'
import { daysIn } from '#core/coach/days'
import Joi from 'joi'
import { newestStarts, songsInWork } from '../../database/queries/coach'
import { playerSettings } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<{ at?: Date; days: number }>({
  at: nowSchema,
  days: Joi.number().integer().min(1).max(60).default(14),
})
const MAX_SONGS = 6
/** Where nothing has been played yet: after work. */
const USUAL_HOUR = 18
/** Passes that say when somebody usually plays. */
const STARTS = 300

/** The coming days as iCalendar. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { at = new Date(), days } = validQuery(event, schema)
  const settings = await playerSettings(db, playerId)
  if (!settings) throw notThere('this player')
  const dayOf = daysIn(settings.timeZone)
  const songs = (
    await Promise.all((await songsInWork(db, playerId, MAX_SONGS)).map(id => songOf(playerId, id)))
  ).flatMap(song => song ?? [])
  const main = songs[0]
  const calendar = calendarOf(
    comingDays(songs, at.getTime(), days, dayOf).map(({ day, reviews }) => ({
      day,
      minutes: settings.sessionMinutes,
      title: main ? `Piano: ${main.title}` : 'Piano',
      lines:
        reviews.length > 0
          ? ['Comes back:', ...reviews.map(one => `${one.title}, ${one.part}`)]
          : ['What is new, and what was hard.'],
    })),
    usualStart(await newestStarts(db, playerId, STARTS), settings.timeZone),
    songs.flatMap(song => (song.targetDate ? [{ day: song.targetDate, title: song.title }] : [])),
  )
  setResponseHeaders(event, {
    'content-type': 'text/calendar; charset=utf-8',
    'content-disposition': 'attachment; filename="half-step.ics"',
  })
  return calendar
})

/** The middle hour at which the newest days of practice began. */
function usualStart(times: readonly Date[], timeZone: string): { hour: number; minute: number } {
  const hour = new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', hourCycle: 'h23' })
  const hours = times.map(at => Number(hour.format(at))).sort((a, b) => a - b)
  return { hour: hours[hours.length >> 1] ?? USUAL_HOUR, minute: 0 }
}
