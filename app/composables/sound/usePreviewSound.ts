import { computed, onScopeDispose, ref } from 'vue'
import type { Arrangement } from '#core/music/arrangement'
import { spanPassage } from '#core/music/passage'
import { add, ZERO } from '#core/music/quarters'
import { renderPassage } from '#core/sound/of-score'
import { messageOf } from '~/utils/ui/messageOf'
import type { Made } from '~/workers/patterns'
import { useListening } from './useListening'

/** Music that is made first and then heard, one of several by its name; the button that began it ends it. */
export function usePreviewSound(
  listening: Pick<ReturnType<typeof useListening>, 'play' | 'stop' | 'playing' | 'problem'> = useListening(),
) {
  const failed = ref('')
  const heard = ref('')
  const isOn = (name: string): boolean => listening.playing.value && heard.value === name

  function stop() {
    heard.value = ''
    listening.stop()
  }
  // Nothing plays on a page that was left meanwhile.
  onScopeDispose(stop)

  /** Plays what `make` gives, all of it or its first `bars`; ends it where it plays. */
  async function toggle(
    name: string,
    make: () => Promise<Made<Arrangement>>,
    { bars = Number.POSITIVE_INFINITY } = {},
  ) {
    const wasOn = isOn(name)
    stop()
    failed.value = ''
    if (wasOn) return
    heard.value = name
    try {
      const made = await make()
      if (heard.value !== name) return
      if ('reason' in made) return void (failed.value = made.reason)
      const last = made.made.bars[Math.min(bars, made.made.bars.length) - 1]!
      await listening.play(
        renderPassage(made.made, spanPassage(ZERO, add(last.start, last.length), 'both'), {
          hands: ['right', 'left'],
        }),
      )
    } catch (error) {
      failed.value = messageOf(error)
    }
  }
  return {
    toggle,
    stop,
    isOn,
    playing: listening.playing,
    problem: computed(() => failed.value || listening.problem.value),
  }
}
