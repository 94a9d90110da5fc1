import { onScopeDispose, ref, shallowRef } from 'vue'
import { calibrate, CALIBRATION, type Calibration, type NoCalibration } from '#core/ear/calibration'
import { keyEvent } from '#core/ear/take'
import { clickEvents } from '#core/sound/of-score'
import type { Sound } from '~/sound/sound'
import { useKeyboardsStore } from '~/stores/keyboards'
import { messageOf } from '~/utils/ui/messageOf'
import { useSound } from './useSound'

const LEAD_MS = 800
/** After the last click late taps still come: those of wireless sound a good half second later. */
const AFTER_MS = 900
const BEATS_PER_BAR = 4

/** What came of tapping with the click on a keyboard. */
export type Measured = { keyboard: string; outputMs: number } & (Calibration | NoCalibration)

/** Measures how late a keyboard is heard against the click: the player taps any key with it for some twenty seconds. */
export function useCalibration({
  keyboards = useKeyboardsStore() as Pick<ReturnType<typeof useKeyboardsStore>, 'hear'>,
  startSound = useSound().start as () => Promise<Pick<Sound, 'line' | 'everyTick' | 'outputDelayMs'>>,
  isGone = onScopeDispose as (act: () => void) => void,
} = {}) {
  const isRunning = ref(false)
  const problem = ref('')
  /** The beat that sounds, from 1; 0 before the first. */
  const beat = ref(0)
  /** How far each tap lay from its nearest click, ms, in order. */
  const offs = shallowRef<readonly number[]>([])
  const measured = shallowRef<Measured>()
  let ends: (() => void)[] = []

  async function start() {
    if (isRunning.value) return
    isRunning.value = true
    problem.value = ''
    measured.value = undefined
    offs.value = []
    beat.value = 0
    try {
      const sound = await startSound()
      if (!isRunning.value) return
      run(sound)
    } catch (error) {
      isRunning.value = false
      problem.value = `The sound could not be started (${messageOf(error)}).`
    }
  }

  function run(sound: Pick<Sound, 'line' | 'everyTick' | 'outputDelayMs'>) {
    const gapMs = 60_000 / CALIBRATION.bpm
    const startMs = performance.now() + LEAD_MS
    const clicks = Array.from({ length: CALIBRATION.beats }, (_, index) => startMs + index * gapMs)
    performance.mark('half-step:calibration', { startTime: startMs })
    const line = sound.line()
    line.add(
      clickEvents(
        clicks.map((atMs, index) => ({
          atMs,
          downbeat: index % BEATS_PER_BAR === 0,
          beat: (index % BEATS_PER_BAR) + 1,
        })),
      ),
      0,
    )
    /** By keyboard: with several plugged in, the one that is tapped is measured. */
    const taps = new Map<string, number[]>()
    ends = [
      () => line.cut(),
      keyboards.hear((message, source) => {
        if (keyEvent(message)?.kind !== 'down') return
        taps.set(source.name, [...(taps.get(source.name) ?? []), message.atMs])
        const phase = (message.atMs - startMs) / gapMs
        offs.value = [...offs.value, (phase - Math.round(phase)) * gapMs]
      }),
      sound.everyTick(() => {
        const now = performance.now()
        beat.value = Math.max(0, Math.min(CALIBRATION.beats, Math.floor((now - startMs) / gapMs) + 1))
        if (now < clicks.at(-1)! + AFTER_MS) return
        const [keyboard, own] = [...taps].sort(([, a], [, b]) => b.length - a.length)[0] ?? ['', []]
        stop()
        measured.value = { keyboard, outputMs: Math.round(sound.outputDelayMs()), ...calibrate(clicks, own) }
      }),
    ]
  }

  function stop() {
    for (const end of ends) end()
    ends = []
    isRunning.value = false
  }
  isGone(stop)

  return { isRunning, problem, beat, offs, measured, start, stop }
}
