import type { LoopChoice, EndedPass } from './practised'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import type { LiveMark } from '#core/ear/live'
import { waitForKeys } from '#core/ear/own-time'
import { keyEvent, release, takeOf, type KeyStroke, type TakePedal, type TimedMessage } from '#core/ear/take'
import type { Arrangement } from '#core/music/arrangement'
import { expectedNotes, playedPassage, type ExpectedNote } from '#core/music/passage'
import type { MidiPitch } from '#core/music/pitch'
import { useJudge, type Judge } from './useJudge'
import type { WayOfPractising } from './wayOfPractising'

/**
 * From the last key of a pass to its judgement: time for the last keys to come up. What is struck meanwhile belongs to
 * the next pass.
 */
const LAST_KEYS_MS = 900

/** A pass as it is played. */
interface Run {
  choice: LoopChoice
  expected: ExpectedNote[]
  waiting: ReturnType<typeof waitForKeys>
  strokes: KeyStroke[]
  pedals: TakePedal[]
}

/**
 * Practice in the player's own time: no clock, the program waits for the keys of each moment. When all have come the
 * next pass waits at once, and the one that has ended is judged. What is not played to its end is no pass.
 */
export function useOwnTime(options: {
  arrangement: Arrangement
  choice: () => LoopChoice
  /** The keys that are waited for now. */
  waitsFor: (pitches: readonly MidiPitch[]) => void
  passEnded: (pass: EndedPass) => void
  /** Whether the next pass may start before this one is judged; otherwise the receiver of the judgement decides. */
  goesOn?: () => boolean
  judge?: Judge
  /** Performance marks, for measurements. */
  mark?: (name: string, detail: object) => void
}) {
  const {
    arrangement,
    judge = useJudge(arrangement),
    mark: measured = (name, detail) => performance.mark(name, { detail }),
  } = options
  const isRunning = ref(false)
  const current = shallowRef<Pick<Run, 'choice' | 'expected'>>()
  const marks = shallowRef<ReadonlyMap<number, LiveMark>>(new Map())
  const wanted = shallowRef<readonly MidiPitch[]>([])
  /** The notes of the moment that is waited for, by index. */
  const due = shallowRef<readonly number[]>([])

  let run: Run | undefined
  /** The pass that has ended and is not judged yet. */
  let ended: Run | undefined
  let timer: ReturnType<typeof setTimeout> | undefined
  let passes = 0

  function start() {
    stop()
    judge.prepare()
    marks.value = new Map()
    isRunning.value = true
    wait()
  }

  /** A new pass, from its first keys; the marks of the one before stay until one is struck. */
  function wait() {
    const choice = options.choice()
    const expected = expectedNotes(arrangement, playedPassage(arrangement, choice.stretch, choice.hands), choice.bpm)
    run = { choice, expected, waiting: waitForKeys(expected), strokes: [], pedals: [] }
    current.value = run
    measured('half-step:waiting', { pass: passes, stretch: choice.stretch, hands: choice.hands })
    ask()
  }

  function stop() {
    clearTimeout(timer)
    timer = undefined
    ended = undefined
    isRunning.value = false
    rest()
  }

  /** Waits for no keys. */
  function rest() {
    run = undefined
    wanted.value = []
    due.value = []
  }

  /** Another pass, where none waits yet. */
  function goOn() {
    if (isRunning.value && !run) wait()
  }

  /** Shows the awaited keys; the simulated player is asked once for each new event. */
  function ask(isNewEvent = true) {
    wanted.value = run?.waiting.wanted() ?? []
    due.value = run?.waiting.events[run.waiting.at()]?.notes ?? []
    if (isNewEvent) options.waitsFor(wanted.value)
  }

  function hear(message: TimedMessage) {
    const event = keyEvent(message)
    if (event?.kind === 'up') {
      if (!run || !release(run.strokes, event.pitch, event.atMs)) release(ended?.strokes ?? [], event.pitch, event.atMs)
      return
    }
    if (!event || !run) return
    if (event.kind === 'pedal')
      return void (run.strokes.length === 0 && ended ? ended : run).pedals.push({ atMs: event.atMs, down: event.down })
    const { waiting, strokes } = run
    if (strokes.length === 0) {
      // The last keys of the pass before, struck once more, begin nothing.
      if (
        ended &&
        !waiting.wanted().includes(event.pitch) &&
        ended.waiting.events.at(-1)?.pitches.includes(event.pitch)
      )
        return
      marks.value = new Map()
    }
    const stroke = waiting.hear(event.pitch)
    strokes.push({ pitch: event.pitch, velocity: event.velocity, downMs: event.atMs })
    if (stroke.kind === 'right') mark(stroke.notes, 'right', event.pitch)
    if (stroke.kind === 'wrong')
      mark(
        due.value.filter(note => marks.value.get(note)?.outcome !== 'right'),
        'wrong',
        event.pitch,
      )
    if (waiting.isOver()) {
      // A player who goes straight on has ended this pass before the previous one was judged.
      if (ended) judgeEnded()
      ended = run
      timer = setTimeout(judgeEnded, LAST_KEYS_MS)
      if (options.goesOn?.() ?? true) wait()
      else rest()
    } else if (stroke.kind === 'right') ask(stroke.completes)
  }

  function mark(notes: readonly number[], outcome: 'right' | 'wrong', pitch: MidiPitch) {
    const next = new Map(marks.value)
    for (const index of notes)
      next.set(index, {
        round: passes,
        index,
        outcome,
        playedPitch: pitch,
        deviationMs: outcome === 'right' ? 0 : null,
      })
    marks.value = next
  }

  function judgeEnded() {
    clearTimeout(timer)
    const { choice, strokes, pedals } = ended!
    ended = undefined
    const firstMs = strokes[0]!.downMs
    const lastMs = Math.max(...strokes.map(stroke => stroke.upMs ?? stroke.downMs))
    const take = takeOf(strokes, pedals, { zeroMs: firstMs, untilMs: lastMs })
    const { hands, bpm, stretch, strictness } = choice
    const [endedAt, round] = [new Date(), ++passes]
    void judge
      .judge({ passage: playedPassage(arrangement, stretch, hands), take, mode: 'own-time', bpm, strictness })
      .then(({ assessment, failed }) => {
        measured('half-step:pass', { round, score: assessment.summary.score })
        options.passEnded({
          ...choice,
          mode: 'own-time',
          take,
          assessment,
          failed,
          lengthMs: lastMs - firstMs,
          endedAt,
        })
      })
  }

  /** Whether the next pass has been begun: then nothing takes it away from the player. */
  const isBegun = () => (run?.strokes.length ?? 0) > 0

  onScopeDispose(stop)

  const now = computed(() => (isRunning.value ? current.value : undefined))
  const expected = computed(() => now.value?.expected)
  const way: WayOfPractising = {
    now: computed(() => now.value?.choice),
    expected,
    marks,
    due,
    atMs: computed(() => expected.value?.[due.value[0] ?? 0]?.eventMs),
    start,
    stop,
    hear,
    // Nothing accompanies who waits for nobody.
    rearrange: () => {},
  }
  return { way, isRunning, current, marks, wanted, due, start, stop, goOn, hear, isBegun }
}
