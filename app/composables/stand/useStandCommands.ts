import { computed, type Ref } from 'vue'
import { tempoBeatQuarters, type Meter } from '#core/music/meter'
import type { StandAction } from '#shared/utils/controls'
import type { useMarkedBars } from './useMarkedBars'
import type { useStandPractice } from './useStandPractice'
import { useTappedTempo } from '../sound/useTappedTempo'

/** Panels and overlays that a key shows and hides. */
export interface StandShows {
  sound: Ref<boolean>
  drill: Ref<boolean>
  help: Ref<boolean>
  song: Ref<boolean>
  pianoKeys: () => void
  fullscreen: () => void
  review: (passId: string) => void
}

/** How far one step changes the tempo, beats a minute. */
const TEMPO_STEP = 4
const MODES_IN_TURN = ['own-time', 'steady', 'free'] as const
/** Repeat counts in turn; undefined: until stopped. */
const OFTEN = [undefined, 5, 10] as const

/**
 * What the player can ask of the Stand without a pointer: `keys`, by the names that useStandKeys gives to the keys of
 * the computer (STAND_KEYS has the words for them), and `actions`, for keys and pedals of the piano. `onOften`: how
 * often was asked for.
 */
export function useStandCommands(
  practice: ReturnType<typeof useStandPractice>,
  marked: ReturnType<typeof useMarkedBars>,
  shows: StandShows,
  meter: () => Meter,
  onOften: () => void,
) {
  const {
    state,
    mode,
    bpm,
    isLed,
    howOften,
    metronome,
    isRunning,
    lastPassId,
    toggle,
    halt,
    again,
    listen,
    hearAgain,
    setTempo,
    changeTempo,
    changeMode,
    turnHands,
    setHowOften,
    goNext,
    back,
  } = practice
  /** Tempos are changed in the beats of this meter. */
  const changeBeats = (by: number) => changeTempo(by * tempoBeatQuarters(meter()))
  const { tap } = useTappedTempo(beats => setTempo(beats * tempoBeatQuarters(meter())))

  function turnHowOften() {
    onOften()
    const at = OFTEN.findIndex(one => one === (howOften.value.until === 'times' ? howOften.value.count : undefined))
    const next = OFTEN[(at + 1) % OFTEN.length]
    setHowOften(next === undefined ? { until: 'stopped' } : { until: 'times', count: next })
  }
  const turn = (ref: Ref<boolean>) => {
    ref.value = !ref.value
  }
  const atRest = (act: () => void) => () => {
    if (!isRunning.value) act()
  }

  const KEYS: Readonly<Record<string, () => void>> = {
    ' ': toggle,
    Enter: again,
    ArrowUp: () => changeBeats(TEMPO_STEP),
    ArrowDown: () => changeBeats(-TEMPO_STEP),
    '+': () => changeBeats(1),
    '=': () => changeBeats(1),
    '-': () => changeBeats(-1),
    PageUp: () => changeTempo(bpm.value),
    PageDown: () => changeTempo(-bpm.value / 2),
    ArrowRight: () => turnHands(1),
    ArrowLeft: () => turnHands(2),
    '[': () => marked.markEdge('from'),
    ']': () => marked.markEdge('to'),
    'Shift+ArrowLeft': () => marked.moveBars(-1),
    'Shift+ArrowRight': () => marked.moveBars(1),
    'Shift+ArrowUp': () => marked.growBars(1),
    'Shift+ArrowDown': () => marked.growBars(-1),
    'Alt+Shift+ArrowLeft': () => marked.stepEdge('to', -1),
    'Alt+Shift+ArrowRight': () => marked.stepEdge('to', 1),
    Backspace: back,
    F1: turnHowOften,
    F2: () => turn(metronome),
    F3: tap,
    F4: shows.pianoKeys,
    F6: atRest(() => {
      if (lastPassId.value) shows.review(lastPassId.value)
    }),
    F7: () => changeMode(MODES_IN_TURN[(MODES_IN_TURN.indexOf(mode.value) + 1) % MODES_IN_TURN.length]!),
    Home: listen,
    'Shift+F2': () => turn(shows.sound),
    'Shift+F8': atRest(() => turn(shows.drill)),
    End: atRest(() => hearAgain('as-played')),
    F8: goNext,
    F9: () => turn(isLed),
    F10: atRest(() => turn(shows.song)),
    f: shows.fullscreen,
    '?': () => {
      shows.help.value = true
    },
  }
  /** Escape stops; while nothing runs it is the browser's. */
  const keys = computed(() =>
    isRunning.value || state.value.at === 'listening' ? { ...KEYS, Escape: () => halt() } : KEYS,
  )
  const actions: Readonly<Record<StandAction, () => void>> = {
    start: toggle,
    again,
    slower: () => changeBeats(-TEMPO_STEP),
    faster: () => changeBeats(TEMPO_STEP),
    next: goNext,
    from: () => marked.markEdge('from'),
    to: () => marked.markEdge('to'),
    back,
    listen,
  }
  /** Changes the tempo by a number of steps. */
  const stepTempo = (by: number) => changeBeats(by * TEMPO_STEP)
  return { keys, actions, tap, stepTempo }
}
