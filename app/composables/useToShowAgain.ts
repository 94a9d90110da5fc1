import { ref, watch } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { toShowAgain } from '#core/coach/to-show-again'
import { restoredRecord } from '#core/coach/record'
import { planSong } from '#core/coach/song-plan'
import { toShowAgainText } from '#core/words/coach'
import type { CoachAnswer } from './useCoach'
import type { Request, Workbench } from './useWorkbench'

/** How long the work rests before it is looked at: a plan of a long song takes a tenth of a second. */
const REST_MS = 400

/** What of the learned will have to be shown again once the work is saved, in words; '' for nothing, or while nothing is known of it. */
export function useToShowAgain(songId: string, { arrangement, parts, isSaved, saved }: Workbench, request: Request = $fetch) {
  const text = ref('')
  let coach: Promise<CoachAnswer | undefined> | undefined
  watch(saved, () => { coach = undefined })
  watchDebounced([arrangement, parts, isSaved], async () => {
    if (isSaved.value) {
      text.value = ''
      return
    }
    coach ??= request<CoachAnswer>(`/api/songs/${songId}/coach`).catch(() => undefined)
    const answer = await coach
    if (!answer || isSaved.value) return
    const { record: { standing }, changes } = restoredRecord({ ...answer, reviews: [], days: [] })
    const before = planSong(saved.value, answer.parts, answer.settings, answer.targetShare, { changes })
    const after = planSong(arrangement.value, parts.value.map((part, place) => ({ ...part, id: part.id ?? `new ${place}` })), answer.settings, answer.targetShare)
    text.value = toShowAgainText(toShowAgain(before, standing, after))
  }, { debounce: REST_MS })
  return text
}
