import { storedRecord } from '#core/coach/record'

/** What the Stand needs for the coach to speak at once after each pass: the song's parts, the goal, and where the player stands. */
export default defineEventHandler(async (event) => {
  const song = await songOf(await requirePlayerId(event), checkedId(event))
  if (!song) throw notFound('this song')
  const { plan, record, targetShare, arrangementId } = song
  const { stages, shown, newestDay, changes } = storedRecord(plan, record)
  return { arrangementId, parts: plan.parts, settings: plan.settings, targetShare, stages, shown, newestDay, changes }
})
