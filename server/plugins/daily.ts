import { database } from '../database/connection'
import { daysIn } from '#core/coach/days'
import { allAccounts } from '../database/queries/accounts'
import { DELETED_DAYS, eraseSong, songsDeletedBefore } from '../database/queries/songs'
import { writeDailyArchives } from '../use-cases/daily-archives'

/** First check after the start, and interval of checks for the day's work, ms. */
const [FIRST_MS, EVERY_MS] = [20_000, 60 * 60_000]
const DAY_MS = 86_400_000

/**
 * What is done once a day: songs that were deleted long enough ago go for good, and where a folder is given
 * (HALF_STEP_ARCHIVES), every player has an archive.
 */
export default defineNitroPlugin(nitro => {
  let isOver = false
  const look = async () => {
    try {
      for (const { id, ownerId } of await songsDeletedBefore(database(), new Date(Date.now() - DELETED_DAYS * DAY_MS)))
        await eraseSong(database(), ownerId, id)
      const folder = process.env.HALF_STEP_ARCHIVES
      if (!folder) return
      const day = daysIn(Intl.DateTimeFormat().resolvedOptions().timeZone)(Date.now())
      for (const file of await writeDailyArchives(
        await allAccounts(database()),
        { folder, kept: Number(process.env.HALF_STEP_ARCHIVES_KEPT) || 14, day },
        async (playerId, use) => await writeArchive(playerId, { kind: 'player' }, new Date(), use),
      )) {
        console.info(`the day's archive is ${file}`)
      }
    } catch (error) {
      if (!isOver)
        console.error(
          "the day's work could not be done; it is tried again in an hour:",
          error instanceof Error ? error.message : error,
        )
    }
  }
  const first = setTimeout(() => void look(), FIRST_MS)
  const every = setInterval(() => void look(), EVERY_MS)
  nitro.hooks.hook('close', () => {
    isOver = true
    clearTimeout(first)
    clearInterval(every)
  })
})
