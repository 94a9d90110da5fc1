import type { StandPart } from './practised'
import { computed, ref, watch } from 'vue'
import { useWindowSize } from '@vueuse/core'
import { isSameSpan, playedPassage } from '#core/music/passage'
import { sungLines } from '#core/music/sung-words'
import { notationSize, otherStaves } from '~/utils/stand/sizes'
import { useSettingsStore } from '~/stores/settings'
import { useFingers } from '../workbench/useFingers'
import type { useStandPractice } from './useStandPractice'
import type { useStandView } from './useStandView'

/** What stands on the Stand's page, and how: which bars, how large, with which fingers and words. */
export function useStandPage(
  part: StandPart,
  practice: ReturnType<typeof useStandPractice>,
  view: ReturnType<typeof useStandView>,
  settings = useSettingsStore(),
) {
  const { arrangement } = part
  const { isRunning, loop, coachSet, along } = practice
  const { here, expected, due, marks, lastHere, passage, around, whole, shownHands, clockBpm } = view

  // What the page shows: the part around the passage, the whole song on request, or the passage itself when it is more
  // than a part.
  const showsSong = ref(false)
  watch(isRunning, running => {
    if (running) showsSong.value = false
  })
  const onPage = computed(() => (showsSong.value ? whole : around.value))
  const isWhole = computed(() => isSameSpan(onPage.value, here.value))
  const shownPassage = computed(() =>
    isWhole.value ? passage.value : playedPassage(arrangement, onPage.value, shownHands.value),
  )
  const { width: screenWidth } = useWindowSize()
  const size = computed(() => notationSize(settings.stand.size, screenWidth.value))
  const otherParts = computed(() => otherStaves(part.roleParts, settings.stand))

  /** Fingers that are suggested where the score has none and the player wants to see some; the notes come first. */
  const isDrawn = ref(false)
  const suggested = useFingers(() =>
    coachSet.value.fingering === 'free' || !isDrawn.value
      ? undefined
      : { arrangement, stretch: onPage.value, reach: settings.reachHalfSteps },
  )
  const fingers = computed(
    () =>
      new Map(
        [...suggested.value.right.notes, ...suggested.value.left.notes]
          .filter(note => !note.locked)
          .map(({ id, finger }) => [id, finger]),
      ),
  )

  const notation = computed(() => ({
    arrangement,
    musicXml: part.musicXml,
    scoreId: part.arrangementId,
    expected: expected.value,
    marks: marks.value,
    due: due.value,
    assessment: isRunning.value ? undefined : lastHere.value?.assessment,
    toleranceMs: (isRunning.value ? loop.current.value?.toleranceMs : lastHere.value?.assessment.summary.onTimeMs) ?? 0,
  }))

  /** To sing to. */
  const words = computed(() => (along.value.guide ? sungLines(arrangement, passage.value, clockBpm.value) : []))

  return { showsSong, isWhole, shownPassage, size, otherParts, fingers, isDrawn, notation, words }
}
