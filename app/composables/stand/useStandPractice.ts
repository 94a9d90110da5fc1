import type { LoopChoice, EndedPass, StandPart } from './practised'
import { computed, nextTick, ref, shallowRef, watch, type Ref } from 'vue'
import { tempoAt, type Hands } from '#core/music/arrangement'
import { isSameSpan, type ScoreSpan } from '#core/music/passage'
import type { TimedMessage } from '#core/ear/take'
import type { NextPass } from '#core/coach/song-plan'
import { isRepeatGoalMet, UNTIL_STOPPED, type RepeatGoal } from '#core/coach/how-often'
import { COACH_DEFAULTS } from '#core/coach/settings'
import { partAt } from '#core/coach/stages'
import {
  afterEvent,
  AT_REST,
  isPractising,
  type PracticeMode,
  type Rest,
  type StandEvent,
  type StandState,
} from '~/utils/stand/states'
import { roundOfTurns } from '#core/music/in-turns'
import { NOTHING_ALONG, type PlayAlong } from '#shared/utils/sound'
import { useKeyboardsStore } from '~/stores/keyboards'
import { useOutboxStore } from '~/stores/outbox'
import { useSettingsStore } from '~/stores/settings'
import { useCoach } from '../coach/useCoach'
import { useFreePlay } from './useFreePlay'
import { useKeptPasses } from './useKeptPasses'
import { useOwnTime } from './useOwnTime'
import { useOwnRecording } from './useOwnRecording'
import { usePlayAlong } from './usePlayAlong'
import { usePracticeLoop } from './usePracticeLoop'
import type { Cue, Sound } from '~/sound/sound'
import { useSound } from '../sound/useSound'
import { useStandListening } from './useStandListening'
import type { WayOfPractising } from './wayOfPractising'
import type { Judge } from './useJudge'
import type { Request } from '~/utils/ui/askServer'

/** What is played: where, by which hands, how. */
export interface Choice {
  stretch: ScoreSpan
  hands: Hands
  mode: PracticeMode
  bpm: number
}

export interface StandBeginning extends Partial<Omit<Choice, 'bpm'>> {
  bpm: number
  isLed: boolean
  howOften?: RepeatGoal
  along?: Ref<PlayAlong>
}

const MIN_BPM = 20
const MAX_BPM = 300
/** Rounds without a key after which the player has left. */
const MAX_SILENT_ROUNDS = 4
const HANDS_IN_TURN: Hands[] = ['left', 'both', 'right']
/** How long a verdict is shown, ms; in a short loop at most this share of it. */
const VERDICT_MS = 1800
const VERDICT_SHARE = 0.4

/** Whether a tempo (quarter notes a minute) is one that can be practised at. */
export const isTempo = (bpm: number): boolean => bpm >= MIN_BPM && bpm <= MAX_BPM

/** What the Stand stands on: what listens, keeps, knows the player's settings, sounds and judges; the server. */
export interface StandEnvironment {
  keyboards: Pick<ReturnType<typeof useKeyboardsStore>, 'lost'> & { listening: readonly { name: string }[] } & {
    simulated: Pick<ReturnType<typeof useKeyboardsStore>['simulated'], 'prepare' | 'answer' | 'rest'>
  }
  outbox: Pick<ReturnType<typeof useOutboxStore>, 'keep' | 'heardOf'>
  settings: Pick<ReturnType<typeof useSettingsStore>, 'coach' | 'strictness' | 'sound' | 'delayMsOf'>
  startSound: () => Promise<Sound>
  judge?: Judge
  request?: Request
  newId: () => string
}

/**
 * Practice at the Stand: what is played, in which way (with the click, in the player's own time, freely), the passes so
 * far, and where the coach leads. A choice takes effect with the next pass. The states alone decide what may happen
 * when (`~/utils/stand/states`).
 */
export function useStandPractice(
  at: StandPart,
  beginning: StandBeginning,
  environment: Partial<StandEnvironment> = {},
) {
  const { arrangement } = at
  const {
    keyboards = useKeyboardsStore(),
    outbox = useOutboxStore(),
    settings = useSettingsStore(),
    startSound = useSound().start,
    newId = () => crypto.randomUUID(),
    judge,
    request,
  } = environment

  const state = shallowRef<StandState>(AT_REST)
  const send = (event: StandEvent) => {
    state.value = afterEvent(state.value, event)
  }
  const isRunning = computed(() => isPractising(state.value))

  const stretch = shallowRef<ScoreSpan>(beginning.stretch ?? at.stretch)
  const hands = ref<Hands>(beginning.hands ?? 'right')
  const mode = ref<PracticeMode>(beginning.mode ?? 'steady')
  const bpm = ref(beginning.bpm)
  const targetBpm = computed(() => tempoAt(arrangement, stretch.value.from))
  const coach = useCoach(
    at.song.id,
    arrangement,
    stage => isSameSpan(stage.unit.stretch, stretch.value) && stage.hands === hands.value,
    { judge, request, waiting: async () => await outbox.heardOf(at.song.id) },
  )
  const coachSet = computed(() => ({ ...COACH_DEFAULTS, ...settings.coach }))
  /** The coach moves on by itself. A player who came for one tread, or has chosen bars, stays there. */
  const isLed = ref(beginning.isLed)
  const howOften = shallowRef<RepeatGoal>(beginning.howOften ?? UNTIL_STOPPED)
  const metronome = ref(true)
  /** What was played before the player chose bars. */
  const before = shallowRef<Choice & { isLed: boolean; howOften: RepeatGoal }>()
  /** The place that the player has called hard: its passes are the coach's evidence of it. */
  const ownSpot = shallowRef<ScoreSpan>()

  const lastRound = shallowRef<EndedPass>()
  /** Where the coach has moved to, and why, until something is played there. */
  const moved = shallowRef<NextPass>()
  const { passes, lastPassId, played, keep, recount } = useKeptPasses(at, { outbox, newId, partHere, isOwnSpot })
  let silentRounds = 0
  let outputDelayMs = 0
  let isMoveDue = false
  let verdict: ReturnType<typeof setTimeout> | undefined

  /** What plays along, and whether the program goes first. */
  const along = beginning.along ?? ref<PlayAlong>(NOTHING_ALONG)
  const playAlong = usePlayAlong(arrangement, along, {
    ends: () => coach.plan.value?.parts.map(part => part.to) ?? [],
    loaded: rearrange,
    startSound,
  })
  const recording = useOwnRecording(
    { songId: at.song.id, arrangementId: at.arrangementId, arrangement },
    () => loop.rearrange(),
    { startSound },
  )

  const choice = (): LoopChoice => ({
    stretch: stretch.value,
    hands: hands.value,
    bpm: bpm.value,
    restBars: coachSet.value.restBars,
    strictness: settings.strictness,
    keyboardDelayMs: settings.delayMsOf(keyboards.listening[0]?.name, outputDelayMs),
    click: settings.sound.click,
  })
  const loop = usePracticeLoop({
    arrangement,
    startSound,
    judge,
    choice: round => ({ ...choice(), ...roundOfTurns(arrangement, stretch.value, along.value.turns, round) }),
    metronome: () => metronome.value,
    accompany: round => [...playAlong.events(round), ...recording.events(round)],
    roundBegins: ({ expected: due, startMs, turn }) => {
      if (turn !== 'program') keyboards.simulated.prepare(due, startMs)
    },
    passEnded,
    fellAsleep: () => halt({ why: 'silence' }),
  })
  const ownTime = useOwnTime({
    arrangement,
    choice,
    waitsFor: pitches => keyboards.simulated.answer(pitches),
    passEnded,
    goesOn: () => !isMoveDue,
    judge,
  })
  const free = useFreePlay({
    arrangement,
    choice,
    startSound,
    judge,
    passEnded,
    accompany: its => playAlong.events(its),
    begins: () => send({ kind: 'music' }),
    notThis: () => {
      isNotThis.value = true
      send({ kind: 'waiting' })
    },
  })
  /** What was played last, freely, was nothing of these bars. */
  const isNotThis = ref(false)
  const ways: Readonly<Record<PracticeMode, WayOfPractising>> = {
    steady: loop.way,
    'own-time': ownTime.way,
    free: free.way,
  }
  const each = Object.values(ways)
  /** The way that runs. */
  const running = computed(() => each.find(way => way.now.value))
  function rearrange() {
    for (const way of each) way.rearrange()
  }
  /** A message of any keyboard. */
  function hear(message: TimedMessage) {
    for (const way of each) way.hear(message)
  }
  watch(along, rearrange, { deep: true })
  watch(
    [loop.phase, loop.beat, loop.current],
    ([phase]) => {
      if (phase === 'count-in' && (loop.beat.value || state.value.at !== 'going-on')) send({ kind: 'count-in' })
      if (phase === 'playing') send({ kind: loop.current.value?.turn === 'program' ? 'shown' : 'music' })
      if (phase === 'stopped' && loop.problem.value) send({ kind: 'stop', rest: { why: 'player' } })
    },
    { flush: 'sync' },
  )
  watch(
    ownTime.marks,
    () => {
      if (ownTime.isBegun()) send({ kind: 'read' })
    },
    { flush: 'sync' },
  )

  watch(
    () => keyboards.lost,
    lost => {
      if (lost && isRunning.value) {
        quiet()
        send({ kind: 'unplugged', keyboard: lost })
      } else if (!lost && state.value.at === 'interrupted') begin()
    },
  )

  function passEnded(pass: EndedPass) {
    const began = performance.now()
    void nextTick(() => performance.measure('half-step:pass-shown', { start: began }))
    lastRound.value = pass
    isNotThis.value = false
    moved.value = undefined
    silentRounds = pass.take.notes.length > 0 ? 0 : silentRounds + 1
    if (silentRounds >= MAX_SILENT_ROUNDS) halt({ why: 'silence' })
    // A round in which no key was struck is not a pass.
    if (silentRounds > 0) return
    keep(pass)
    judged(pass)
    coach.hear(pass, isOwnSpot(pass))
    if (isRepeatGoalMet(howOften.value, played.value)) return halt({ why: 'done' })
    const next = coach.next.value
    const isElsewhere = isLed.value && next !== undefined && !isNow(next)
    // A player who has begun the next pass in own time may finish it, and moves on after that.
    isMoveDue = isElsewhere && pass.mode === 'own-time' && ownTime.isBegun()
    if (isElsewhere && !isMoveDue) follow(next)
    else ownTime.goOn()
  }

  function judged({ assessment, mode: playedAs, lengthMs }: EndedPass) {
    send({ kind: 'judged', isClean: assessment.summary.clean })
    clearTimeout(verdict)
    verdict = setTimeout(
      () => send({ kind: 'read' }),
      playedAs === 'steady' ? Math.min(VERDICT_MS, VERDICT_SHARE * lengthMs) : VERDICT_MS,
    )
  }

  function isOwnSpot(pass: EndedPass): boolean {
    return ownSpot.value !== undefined && isSameSpan(ownSpot.value, pass.stretch)
  }

  /** The part that a stretch begins in, once the coach knows the parts. */
  function partHere(place: ScoreSpan) {
    const found = partAt(coach.plan.value?.parts ?? [], place)
    return found && { id: found.id, name: found.name, stretch: { from: found.from, to: found.to } }
  }

  const isNow = (next: Pick<NextPass, 'stretch' | 'hands' | 'mode' | 'bpm'>) =>
    isSameSpan(next.stretch, stretch.value) &&
    next.hands === hands.value &&
    (next.mode === mode.value || (mode.value === 'free' && next.mode === 'steady')) &&
    (next.mode === 'own-time' || mode.value === 'free' || Math.abs(next.bpm - bpm.value) < 0.5)

  /** Moves where the coach points; a running loop continues there after a soft cue. */
  function follow(next: NextPass) {
    before.value = undefined
    moved.value = next
    turnTo(next)
  }

  /** Something else is played from now on, after a soft cue where something was played already. */
  function turnTo(next: Choice) {
    isMoveDue = false
    const [wasRunning, wasMode] = [isRunning.value, mode.value]
    const isSamePlace =
      isSameSpan(next.stretch, stretch.value) && next.hands === hands.value && next.mode === mode.value
    const cue: Cue = !isSamePlace ? 'other' : next.bpm > bpm.value ? 'up' : 'down'
    if (!isSamePlace) recount()
    stretch.value = next.stretch
    hands.value = next.hands
    mode.value = next.mode
    bpm.value = next.bpm
    if (!wasRunning) return
    clearTimeout(verdict)
    if (wasMode === 'steady' && next.mode === 'steady') {
      loop.moveOn(cue)
      return send({ kind: 'moved', mode: 'steady' })
    }
    quiet()
    send({ kind: 'moved', mode: next.mode })
    void startSound().then(sound => sound.cue(cue))
    run()
  }

  const now = (): Choice => ({ stretch: stretch.value, hands: hands.value, mode: mode.value, bpm: bpm.value })

  /** The player chooses bars, and what else is given, and stays there: `back` returns to what was played before. */
  function choose({ howOften: often, ...next }: Partial<Choice> & { howOften?: RepeatGoal }) {
    before.value ??= { ...now(), isLed: isLed.value, howOften: howOften.value }
    isLed.value = false
    moved.value = undefined
    if (often) howOften.value = often
    turnTo({ ...now(), ...next })
  }

  function back() {
    if (!before.value) return
    const { isLed: wasLed, howOften: wasOften, ...place } = before.value
    before.value = undefined
    moved.value = undefined
    isLed.value = wasLed
    howOften.value = wasOften
    turnTo(place)
  }

  function setHowOften(often: RepeatGoal) {
    howOften.value = often
    recount()
    if (often.until !== 'stopped') isLed.value = false
  }

  function run() {
    void startSound()
      .then(sound => {
        outputDelayMs = sound.outputDelayMs()
      })
      .catch(() => {})
    void ways[mode.value].start()
    // The click counts in; the others wait for the first key.
    if (mode.value !== 'steady') send({ kind: 'waiting' })
  }

  function begin() {
    send({ kind: 'start', mode: mode.value, hasKeyboard: keyboards.listening.length > 0 })
    if (!isRunning.value) return
    silentRounds = 0
    isMoveDue = false
    isNotThis.value = false
    recount()
    listening.stop()
    run()
  }

  function quiet() {
    clearTimeout(verdict)
    for (const way of each) way.stop()
    listening.stop()
    keyboards.simulated.rest()
  }

  function halt(rest: Rest = { why: 'player' }) {
    quiet()
    send({ kind: 'stop', rest })
  }

  const toggle = () => (isRunning.value ? halt() : begin())

  const { listening, listen, hearAgain } = useStandListening({
    arrangement,
    state,
    send,
    halt,
    startSound,
    lastPass: () => lastRound.value,
    performance: () =>
      playAlong.performance({ stretch: stretch.value, hands: hands.value, bpm: bpm.value, turn: 'program' }),
  })

  /** From the beginning, as it is set now. */
  function again() {
    recount()
    if (loop.phase.value !== 'stopped' && mode.value === 'steady') return loop.moveOn('other')
    halt()
    begin()
  }

  function setTempo(to: number) {
    bpm.value = Math.min(MAX_BPM, Math.max(MIN_BPM, to))
  }
  const changeTempo = (by: number) => setTempo(Math.round(bpm.value) + by)

  function changeMode(to: PracticeMode) {
    if (mode.value !== to) turnTo({ ...now(), mode: to })
  }

  function setHands(to: Hands) {
    if (hands.value === to) return
    hands.value = to
    recount()
    // With the click they change with the next round.
    if (running.value && mode.value !== 'steady') void running.value.start()
  }
  const turnHands = (by: number) => setHands(HANDS_IN_TURN[(HANDS_IN_TURN.indexOf(hands.value) + by) % 3]!)

  /** Where the coach would go; the same again where it would stay. */
  function goNext() {
    const next = coach.next.value
    if (next && !isNow(next)) follow(next)
    else again()
  }

  /** The bars that are played are a hard place, which the coach mends from the next pass on. */
  function callHard() {
    ownSpot.value = stretch.value
  }

  /** Another page listens to the keyboards now. */
  function yieldTo(page: string) {
    quiet()
    send({ kind: 'other-page', page })
  }

  return {
    state,
    stretch,
    hands,
    mode,
    bpm,
    targetBpm,
    isLed,
    howOften,
    metronome,
    coach,
    coachSet,
    loop,
    ownTime,
    running,
    hear,
    isRunning,
    passes,
    played,
    lastRound,
    lastPassId,
    moved,
    before,
    ownSpot,
    along,
    playAlong,
    recording,
    listening,
    free,
    isNotThis,
    listen,
    hearAgain,
    partHere,
    isNow,
    toggle,
    begin,
    halt,
    again,
    setTempo,
    changeTempo,
    changeMode,
    setHands,
    turnHands,
    setHowOften,
    goNext,
    choose,
    back,
    callHard,
    yieldTo,
    takeBack: () => send({ kind: 'this-page' }),
  }
}
