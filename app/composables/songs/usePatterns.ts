import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import type { Hand } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import { canPlayIn, type HandPattern } from '#core/patterns/hand-pattern'
import { HAND_PATTERNS } from '#core/patterns/hand-patterns'
import { nextStepUp } from '#core/patterns/pattern-difficulty'
import { patternAbout, patternTitle } from '#core/words/patterns'
import { usePatternsWorker } from './usePatternsWorker'

/** A pattern that can be chosen: one that ships, or the player's own; `level` once it has been worked out. */
export interface OfferedPattern {
  key: string
  id?: string
  pattern: HandPattern
  title: string
  about: string
  level?: number
}

/** What patterns are wanted for. */
export interface PatternsFor {
  hand: Hand
  meter: Meter
  bpm: number
  reach?: number
}

/**
 * The patterns for a hand, meter and tempo, easiest first: the built-in ones and the player's own. Levels are computed
 * in a worker.
 */
export function usePatterns(
  wanted: () => PatternsFor,
  own: () => readonly { id: string; pattern: HandPattern }[] = () => [],
  worker = usePatternsWorker,
) {
  const levels = shallowRef<ReadonlyMap<string, number>>(new Map())
  const fitting = computed((): OfferedPattern[] => {
    const { hand, meter } = wanted()
    const all = [
      ...HAND_PATTERNS.map(pattern => ({ key: pattern.name, pattern })),
      ...own().map(({ id, pattern }) => ({ key: id, id, pattern })),
    ]
    return all
      .filter(({ pattern }) => pattern.hands.includes(hand) && canPlayIn(pattern, meter))
      .map(one => ({ ...one, title: patternTitle(one.pattern.name), about: patternAbout(one.pattern.name) }))
  })
  const failed = ref(false)
  let asked = 0
  watch(
    [fitting, () => JSON.stringify(wanted())],
    async () => {
      if (!import.meta.client) return
      const request = ++asked
      const all = fitting.value
      const { hand, meter, bpm, reach } = wanted()
      const found = await worker()
        .difficulties(
          all.map(one => toRaw(one.pattern)),
          { hand, meter: { ...meter }, bpm, reach },
        )
        .catch(() => undefined)
      failed.value = !found
      if (found && request === asked) levels.value = new Map(all.map((one, index) => [one.key, found[index]!.level]))
    },
    { immediate: true },
  )
  const offered = computed(() =>
    fitting.value
      .map(one => ({ ...one, level: levels.value.get(one.key) }))
      .sort((a, b) => (a.level ?? 0) - (b.level ?? 0)),
  )
  /** The one that is a little harder than another; undefined above the hardest, and while it is not known. */
  const nextUp = (name: string): OfferedPattern | undefined => nextStepUp(name, offered.value)
  return { offered, nextUp, failed }
}
