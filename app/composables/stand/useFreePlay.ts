import type { LoopChoice, EndedPass } from './practised'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import type { Conductor } from '#core/accompany/conductor'
import { playedSpan } from '#core/ear/played-span'
import { fromFirstKey, gatherTake, keyEvent, type KeyEvent, type Take, type TimedMessage } from '#core/ear/take'
import { feltBeatMs, type Arrangement } from '#core/music/arrangement'
import { expectedNotes, isSameSpan, playedPassage } from '#core/music/passage'
import type { SoundEvent } from '#core/sound/performance'
import type { Sound } from '~/sound/sound'
import { useJudge, type Judge } from './useJudge'
import { useSound } from '../sound/useSound'
import { NO_MARKS, NOTHING_DUE, type WayOfPractising } from './wayOfPractising'

/** Silence, ms, after which a free pass has ended: shorter once its last notes have come. */
const REST_MS = { within: 4_000, atEnd: 1_600 }
/** Scheduling lead of the accompaniment, ms: a later decision would be too late, an earlier one knows less. */
const DECIDES_MS = 35

/**
 * Practice with neither click nor waiting: it begins with the first key, at the player's own tempo, ends with a rest,
 * and is judged in its own time. Whatever accompanies goes with the player. What went over only some of the bars is a
 * pass of these.
 */
export function useFreePlay(options: {
  arrangement: Arrangement
  choice: () => LoopChoice
  /** What accompanies, ms at the tempo of the choice. */
  accompany: (choice: LoopChoice) => readonly SoundEvent[]
  /** The first key of a pass has come. */
  begins: () => void
  passEnded: (pass: EndedPass) => void
  /** What was played was nothing of this. */
  notThis: () => void
  judge?: Judge
  startSound?: () => Promise<Sound>
}) {
  const { arrangement, judge = useJudge(options.arrangement), startSound = useSound().start } = options
  const isRunning = ref(false)
  /**
   * Where the player is believed to be, ms from the beginning at the tempo of the choice; undefined before the first
   * key.
   */
  const atMs = ref<number>()
  const current = shallowRef<LoopChoice>()
  let Follows: typeof Conductor | undefined
  /** Counts the beginnings: what an earlier one still waits for is void. */
  let beginning = 0
  let line: ReturnType<Sound['line']> | undefined
  let stopTicking: (() => void) | undefined
  let conductor: Conductor | undefined
  let events: KeyEvent[] = []
  let held = new Set<number>()
  let struck = new Map<number, ReturnType<ReturnType<Sound['line']>['strike']>>()
  let lastMs = 0
  let lengthMs = 0

  async function start() {
    stop()
    judge.prepare()
    const own = ++beginning
    current.value = options.choice()
    isRunning.value = true
    // Loaded only for free playing.
    Follows ??= (await import('#core/accompany/conductor')).Conductor
    if (own !== beginning) return
    wait()
    const sound = await startSound().catch(() => undefined)
    if (own !== beginning) return
    line = sound?.line()
    // It is heard and judged also where there is no sound.
    stopTicking = sound ? sound.everyTick(tick) : everyTickHere(tick)
  }

  /** For a first key. */
  function wait() {
    const choice = options.choice()
    current.value = choice
    const expected = expectedNotes(arrangement, playedPassage(arrangement, choice.stretch, choice.hands), choice.bpm)
    lengthMs = expected.at(-1)?.eventMs ?? 0
    events = []
    held = new Set()
    struck = new Map()
    conductor = new Follows!({
      expected,
      bars: arrangement.bars,
      accompaniment: options.accompany(choice),
      isTempoTold: false,
      beatMs: feltBeatMs(arrangement, choice.stretch.from, choice.bpm),
    })
    atMs.value = undefined
  }

  /** What accompanies is another thing from the next pass on; from this one where it has not begun. */
  function rearrange() {
    if (isRunning.value && conductor && events.length === 0) wait()
  }

  /** Ends it; what has been played so far is judged if it was anything. */
  function stop() {
    if (!isRunning.value) return
    finish()
    beginning++
    isRunning.value = false
    stopTicking?.()
    stopTicking = undefined
    current.value = undefined
    conductor = undefined
    atMs.value = undefined
  }

  function hear(message: TimedMessage) {
    const event = keyEvent(message)
    if (!event || !isRunning.value || !conductor) return
    if (events.length === 0) {
      if (event.kind !== 'down') return
      options.begins()
    }
    events.push(event)
    lastMs = performance.now()
    if (event.kind === 'down') {
      held.add(event.pitch)
      conductor.hear(event.pitch, event.atMs - current.value!.keyboardDelayMs)
      accompany()
    }
    if (event.kind === 'up') held.delete(event.pitch)
  }

  /** Does what is due of the accompaniment, and no more: what comes later may still change. */
  function accompany() {
    if (!conductor || !line) return
    const now = performance.now()
    for (let cue = conductor.upcoming; cue && cue.atMs <= now + DECIDES_MS; cue = conductor.upcoming) {
      conductor.done(cue)
      if (cue.kind === 'on')
        struck.set(cue.key, line.strike(cue.event.voice, { ...cue.event, lengthMs: Infinity }, Math.max(now, cue.atMs)))
      else {
        struck.get(cue.key)?.letGo(Math.max(now, cue.atMs))
        struck.delete(cue.key)
      }
    }
  }

  function tick() {
    if (events.length === 0) return
    accompany()
    const now = performance.now()
    atMs.value = Math.min(lengthMs, conductor!.placeAt(now))
    const restMs = atMs.value >= lengthMs - 1 ? REST_MS.atEnd : REST_MS.within
    if (held.size === 0 && now - lastMs > restMs) {
      finish()
      wait()
    }
  }

  function finish() {
    line?.cut()
    if (events.length === 0 || !current.value) return
    const choice = current.value
    const take = fromFirstKey(gatherTake(events))
    events = []
    void judgeFree(choice, take, new Date())
  }

  async function judgeFree(choice: LoopChoice, take: Take, endedAt: Date) {
    const { hands, strictness, keyboardDelayMs } = choice
    const request = { take, mode: 'free' as const, strictness, offsetMs: keyboardDelayMs }
    let judged = await judge.judge({ passage: playedPassage(arrangement, choice.stretch, hands), ...request })
    const stretch = playedSpan(arrangement, choice.stretch, judged.assessment.notes)
    if (!stretch) return options.notThis()
    if (!isSameSpan(stretch, choice.stretch))
      judged = await judge.judge({ passage: playedPassage(arrangement, stretch, hands), ...request })
    const { assessment, failed } = judged
    performance.mark('half-step:pass', { detail: { free: true, score: assessment.summary.score } })
    options.passEnded({
      ...choice,
      stretch,
      bpm: assessment.score.bpm,
      mode: 'free',
      take,
      assessment,
      failed,
      lengthMs: take.notes.reduce((latest, note) => Math.max(latest, note.onsetMs + note.durationMs), 0),
      endedAt,
    })
  }

  onScopeDispose(stop)

  const way: WayOfPractising = {
    now: computed(() => (isRunning.value ? current.value : undefined)),
    expected: { value: undefined },
    marks: NO_MARKS,
    due: NOTHING_DUE,
    atMs,
    start,
    stop,
    hear,
    rearrange,
  }
  return { way, isRunning, atMs, current, start, stop, hear, rearrange }
}

const TICK_MS = 25
/** Ticks of the page itself, where no sound gives any. */
function everyTickHere(act: () => void): () => void {
  const ticks = setInterval(act, TICK_MS)
  return () => clearInterval(ticks)
}
