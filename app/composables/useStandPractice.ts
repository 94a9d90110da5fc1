import { tempoAt, type Arrangement, type Hands } from '#core/music/arrangement'
import { isSameStretch, type Stretch } from '#core/music/passage'
import type { NextPass } from '#core/coach/song-plan'
import { COACH_DEFAULTS } from '#core/coach/settings'
import { partAt } from '#core/coach/stages'
import type { EndedPass, LoopChoice } from './usePracticeLoop'

export interface StandPart { id: string, name: string, stretch: Stretch, song: { id: string, title: string }, arrangementId: string, arrangement: Arrangement, musicXml: string }

export interface StandBeginning { stretch?: Stretch, hands?: Hands, mode?: 'steady' | 'own-time', bpm: number, isLed: boolean }

const LEAST_BPM = 20
const MOST_BPM = 300
/** Nobody is at the keys any more. */
const MOST_SILENT_ROUNDS = 4
const HANDS_IN_TURN: Hands[] = ['left', 'both', 'right']

/** Whether a tempo (quarter notes a minute) is one that can be practised at. */
export const isTempo = (bpm: number): boolean => bpm >= LEAST_BPM && bpm <= MOST_BPM

/**
 * Practice at the Stand: what is played, in which of the two ways (with the click or in the player's own time), what was played, and where the coach
 * leads. What is chosen holds from the next pass on.
 */
export function useStandPractice(at: StandPart, beginning: StandBeginning) {
  const { arrangement } = at
  const keyboards = useKeyboardsStore()
  const outbox = useOutboxStore()
  const settings = useSettingsStore()

  const stretch = shallowRef<Stretch>(beginning.stretch ?? at.stretch)
  const hands = ref<Hands>(beginning.hands ?? 'right')
  const mode = ref<'steady' | 'own-time'>(beginning.mode ?? 'steady')
  const bpm = ref(beginning.bpm)
  const targetBpm = computed(() => tempoAt(arrangement, stretch.value.from))
  const coach = useCoach(at.song.id, arrangement, stage => isSameStretch(stage.unit.stretch, stretch.value) && stage.hands === hands.value)
  const coachSet = computed(() => ({ ...COACH_DEFAULTS, ...settings.coach }))
  /** The coach goes on by itself. Whoever came for one tread stays on it. */
  const isLed = ref(beginning.isLed)
  const metronome = ref(true)

  const passes = shallowRef<EndedPass[]>([])
  const lastRound = shallowRef<EndedPass>()
  const lastPassId = ref('')
  let silentRounds = 0
  /** Practice goes on from pass to pass, until the player or silence ends it. */
  let isGoing = false

  const choice = (): LoopChoice => ({
    stretch: stretch.value, hands: hands.value, bpm: bpm.value, restBars: coachSet.value.restBars, strictness: settings.strictness, keyboardDelayMs: settings.keyboardDelayMs,
  })
  const loop = usePracticeLoop({
    arrangement, choice,
    metronome: () => metronome.value,
    roundBegins: ({ expected: due, startMs }) => keyboards.simulated.prepare(due, startMs),
    passEnded,
  })
  const ownTime = useOwnTime({ arrangement, choice, waitsFor: pitches => keyboards.simulated.answer(pitches), passEnded })
  const isRunning = computed(() => loop.phase.value !== 'stopped' || ownTime.isRunning.value)

  function passEnded(pass: EndedPass) {
    const began = performance.now()
    void nextTick(() => performance.measure('half-step:pass-shown', { start: began }))
    lastRound.value = pass
    silentRounds = pass.take.notes.length > 0 ? 0 : silentRounds + 1
    if (silentRounds >= MOST_SILENT_ROUNDS) {
      isGoing = false
      loop.stop()
    }
    // A round in which no key was struck is not a pass.
    if (silentRounds > 0) return
    passes.value = [...passes.value, pass]
    lastPassId.value = crypto.randomUUID()
    const part = partHere(pass.stretch)
    const isPart = isSameStretch(pass.stretch, part?.stretch ?? at.stretch)
    void outbox.keep({
      id: lastPassId.value, partId: part?.id ?? at.id, hands: pass.hands, mode: pass.mode, bpm: pass.bpm, lengthMs: pass.lengthMs, offsetMs: pass.keyboardDelayMs,
      ...(isPart ? {} : { stretch: pass.stretch }), strictness: pass.strictness, take: pass.take,
      startedAt: new Date(pass.endedAt.getTime() - pass.lengthMs).toISOString(),
    })
    coach.hear(pass)
    const next = coach.next.value
    if (isLed.value && next && !isNow(next)) follow(next, isGoing)
    else if (pass.mode === 'own-time' && isGoing) ownTime.start()
  }

  /** The part that a stretch begins in, once the coach knows the parts. */
  function partHere(place: Stretch) {
    const found = partAt(coach.plan.value?.parts ?? [], place)
    return found && { id: found.id, name: found.name, stretch: { from: found.from, to: found.to } }
  }

  const isNow = (next: NextPass) => isSameStretch(next.stretch, stretch.value) && next.hands === hands.value && next.mode === mode.value && (next.mode === 'own-time' || Math.abs(next.bpm - bpm.value) < 0.5)

  /** Goes where the coach points; what was running goes on there, after a soft cue. */
  function follow(next: NextPass, wasRunning: boolean) {
    const isSamePlace = isSameStretch(next.stretch, stretch.value) && next.hands === hands.value && next.mode === mode.value
    const cue = !isSamePlace ? 'other' as const : next.bpm > bpm.value ? 'up' as const : 'down' as const
    const before = mode.value
    stretch.value = next.stretch
    hands.value = next.hands
    mode.value = next.mode
    bpm.value = next.bpm
    if (!wasRunning) return
    if (before === 'steady' && next.mode === 'steady') return loop.moveOn(cue)
    loop.stop()
    ownTime.stop()
    void useSound().start().then(sound => sound.cue(cue))
    begin()
  }

  function begin() {
    isGoing = true
    if (mode.value === 'own-time') ownTime.start()
    else void loop.start()
  }

  function halt() {
    isGoing = false
    loop.stop()
    ownTime.stop()
    keyboards.simulated.rest()
  }

  const toggle = () => isRunning.value ? halt() : begin()

  /** From the beginning, as it is set now. */
  function again() {
    if (loop.phase.value !== 'stopped' && mode.value === 'steady') return loop.moveOn('other')
    loop.stop()
    begin()
  }

  function changeTempo(by: number) {
    bpm.value = Math.min(MOST_BPM, Math.max(LEAST_BPM, Math.round(bpm.value) + by))
  }

  function changeMode(to: 'steady' | 'own-time') {
    if (mode.value === to) return
    const wasRunning = isRunning.value
    halt()
    mode.value = to
    if (wasRunning) begin()
  }

  function turnHands(by: number) {
    hands.value = HANDS_IN_TURN[(HANDS_IN_TURN.indexOf(hands.value) + by) % 3]!
    if (ownTime.isRunning.value) ownTime.start()
  }

  /** Where the coach would go; the same again where it would stay. */
  function goNext() {
    const next = coach.next.value
    if (next && !isNow(next)) follow(next, isRunning.value)
    else again()
  }

  return {
    stretch, hands, mode, bpm, targetBpm, isLed, metronome, coach, coachSet, loop, ownTime, isRunning, passes, lastRound, lastPassId,
    partHere, isNow, toggle, again, changeTempo, changeMode, turnHands, goNext,
  }
}
