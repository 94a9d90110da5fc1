import { coachedSong } from '../../../database/queries/coach'

/** What the Stand needs for the coach to speak at once after each pass: the song's parts, the goal, and every pass so far. */
export default defineEventHandler(async (event) => {
  const song = await coachedSong(database(), await requirePlayerId(event), checkedId(event))
  if (!song) throw notFound('this song')
  const { plan, passes, targetShare, arrangementId } = song
  return { arrangementId, parts: plan.parts, settings: plan.settings, targetShare, passes }
})
