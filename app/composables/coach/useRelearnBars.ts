import { ref, watch } from 'vue'
import { watchDebounced } from '@vueuse/core'
import type { Arrangement } from '#core/music/arrangement'
import { NO_CHANGES } from '#core/coach/changes'
import { barsToRelearn } from '#core/coach/to-show-again'
import { restoredRecord } from '#core/coach/record'
import { relearnText } from '#core/words/coach'
import type { CoachAnswer } from './useCoach'
import { useJudge, type Judge } from '../stand/useJudge'
import { askServer, type Request } from '~/utils/ui/askServer'
import type { Workbench } from '../workbench/useWorkbench'

/** How long edits rest before the song is planned again, ms. */
const REST_MS = 400

/**
 * What of the learned will have to be shown again once the work is saved, in words; '' for nothing, or while nothing is
 * known of it.
 */
export function useRelearnBars(
  songId: string,
  { arrangement, parts, isSaved, saved }: Workbench,
  request: Request = askServer,
  judge: (of: Arrangement) => Pick<Judge, 'plan'> = useJudge,
) {
  const text = ref('')
  let coach: Promise<CoachAnswer | undefined> | undefined
  watch(saved, () => {
    coach = undefined
  })
  watchDebounced(
    [arrangement, parts, isSaved],
    async () => {
      if (isSaved.value) {
        text.value = ''
        return
      }
      coach ??= request<CoachAnswer>(`/api/songs/${songId}/coach`).catch(() => undefined)
      const answer = await coach
      if (!answer || isSaved.value) return
      const {
        record: { standing },
        changes,
      } = restoredRecord({ ...answer, reviews: [], days: [] })
      const { settings, targetShare } = answer
      const [worked, drafts] = [arrangement.value, parts.value]
      const before = await judge(saved.value).plan({ parts: answer.parts, settings, targetShare, changes })
      const after = await judge(worked).plan({
        parts: drafts.map((part, place) => ({ ...part, id: part.id ?? `new ${place}` })),
        settings,
        targetShare,
        changes: NO_CHANGES,
      })
      // What was worked on meanwhile is looked at by itself.
      if (worked !== arrangement.value || drafts !== parts.value || isSaved.value) return
      text.value = relearnText(barsToRelearn(before, standing, after))
    },
    { debounce: REST_MS },
  )
  return text
}
