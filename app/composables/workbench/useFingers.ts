import { wrap, type Remote } from 'comlink'
import { shallowRef, toRaw, watch, type ShallowRef } from 'vue'
import type { Fingering } from '#core/hands/fingering'
import type { Arrangement, Hand } from '#core/music/arrangement'
import { isSameSpan, type ScoreSpan } from '#core/music/passage'
import type { FingersWorker } from '~/workers/fingers'

let worker: Remote<FingersWorker> | undefined
const startWorker = (): Remote<FingersWorker> =>
  (worker ??= wrap<FingersWorker>(
    new Worker(new URL('../../workers/fingers.ts', import.meta.url), { type: 'module', name: 'fingers' }),
  ))

const NONE: Fingering = { notes: [], cost: 0, events: [] }

/** What the fingers are worked out for; nothing while none are wanted. */
export interface FingersFor {
  arrangement: Arrangement
  stretch: ScoreSpan
  reach: number
}

/** Fingers for both hands of a span, computed in a worker; the previous ones until then. */
export function useFingers(
  wanted: () => FingersFor | undefined,
  start: () => Remote<FingersWorker> = startWorker,
): Readonly<ShallowRef<Record<Hand, Fingering>>> {
  const found = shallowRef<Record<Hand, Fingering>>({ right: NONE, left: NONE })
  let asked = 0
  watch(
    wanted,
    async (now, before) => {
      if (
        now &&
        before &&
        now.arrangement === before.arrangement &&
        isSameSpan(now.stretch, before.stretch) &&
        now.reach === before.reach
      )
        return
      const request = ++asked
      if (!now || !import.meta.client) return void (found.value = { right: NONE, left: NONE })
      const { arrangement, stretch, reach } = now
      const fingers = await start()
        .fingers(toRaw(arrangement), toRaw(stretch), reach)
        .catch(() => undefined)
      if (fingers && request === asked) found.value = fingers
    },
    { immediate: true },
  )
  return found
}
