import { onBeforeUnmount, ref } from 'vue'
import { fromFirstKey, gatherTake, keyEvent, type KeyEvent, type Take } from '#core/ear/take'
import { useKeyboardsStore } from '~/stores/keyboards'
import { clickEvents } from '#core/sound/of-score'
import { messageOf } from '~/utils/ui/messageOf'
import type { Sound } from '~/sound/sound'
import { useSound } from './useSound'

export interface RecorderChoice {
  bpm: number
  beatsPerBar: number
  click: boolean
}

/** Scheduling lead of clicks, ms. */
const CLICK_AHEAD_MS = 1_000
const LEAD_MS = 350

/**
 * Records a phrase: to the click, after a bar of count-in, with time 0 on the first beat; or freely, with time 0 at the
 * first key. Every keyboard that is listened to is heard.
 */
export function usePhraseRecorder(
  choice: () => RecorderChoice,
  {
    keyboards = useKeyboardsStore() as Pick<ReturnType<typeof useKeyboardsStore>, 'hear'>,
    startSound = useSound().start as () => Promise<Pick<Sound, 'line' | 'everyTick'>>,
    isGone = onBeforeUnmount as (act: () => void) => void,
  } = {},
) {
  const phase = ref<'idle' | 'starting' | 'count-in' | 'recording'>('idle')
  const noteCount = ref(0)
  const beat = ref(0)
  const problem = ref('')
  let events: KeyEvent[] = []
  let startMs = 0
  let nextBeat = 0
  let ends: (() => void)[] = []

  async function start() {
    if (phase.value !== 'idle') return
    phase.value = 'starting'
    problem.value = ''
    const { bpm, beatsPerBar, click } = choice()
    try {
      const sound = await startSound()
      if ((phase.value as string) !== 'starting') return
      const beatMs = 60_000 / bpm
      events = []
      noteCount.value = 0
      nextBeat = -beatsPerBar
      startMs = click ? performance.now() + LEAD_MS + beatsPerBar * beatMs : performance.now()
      performance.mark('half-step:recording', { startTime: startMs })
      ends = [keyboards.hear(message => hear(keyEvent(message)))]
      phase.value = click ? 'count-in' : 'recording'
      if (!click) return
      const line = sound.line()
      ends.push(
        () => line.cut(),
        sound.everyTick(() => {
          const now = performance.now()
          while (startMs + nextBeat * beatMs < now + CLICK_AHEAD_MS) {
            const beat = ((nextBeat % beatsPerBar) + beatsPerBar) % beatsPerBar
            line.add(clickEvents([{ atMs: nextBeat * beatMs, downbeat: beat === 0, beat: beat + 1 }]), startMs)
            nextBeat++
          }
          beat.value = Math.floor((now - startMs) / beatMs)
          if (now >= startMs) phase.value = 'recording'
        }),
      )
    } catch (error) {
      phase.value = 'idle'
      problem.value = `The sound could not be started (${messageOf(error)}).`
    }
  }

  function hear(event: KeyEvent | undefined) {
    if (!event) return
    events.push({ ...event, atMs: event.atMs - startMs })
    if (event.kind === 'down') noteCount.value++
  }

  /** Ends the recording and gives what was played. */
  function stop(): Take {
    for (const end of ends) end()
    ends = []
    phase.value = 'idle'
    const take = gatherTake(events)
    return choice().click ? take : fromFirstKey(take)
  }
  isGone(() => {
    for (const end of ends) end()
  })

  return { phase, noteCount, beat, problem, start, stop }
}
