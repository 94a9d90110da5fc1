import type { LoopChoice, EndedPass } from './practised'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import type { Arrangement } from '#core/music/arrangement'
import { feltBeatMs } from '#core/music/arrangement'
import { createLiveEar, type LiveEar, type LiveMark } from '#core/ear/live'
import { earFor, onTimeMs } from '#core/ear/parameters'
import { keyEvent, release, takeOf, type KeyStroke, type TakePedal, type TimedMessage } from '#core/ear/take'
import { isPlain } from '#core/music/click'
import { loopPlan, type Click, type LoopPlan } from '#core/music/loop'
import { expectedNotes, playedPassage, type ExpectedNote } from '#core/music/passage'
import { CLICK_VOICE, clickEvents } from '#core/sound/of-score'
import type { SoundEvent } from '#core/sound/performance'
import type { Line } from '~/sound/transport'
import { messageOf } from '~/utils/ui/messageOf'
import { useJudge, type Judge } from './useJudge'
import type { Cue, Sound } from '~/sound/sound'
import { useSound } from '../sound/useSound'
import { NOTHING_DUE, type WayOfPractising } from './wayOfPractising'

/** One time through the loop, with its place on the page's clock. */
export interface LoopRound extends LoopChoice {
  round: number
  startMs: number
  plan: LoopPlan
  expected: ExpectedNote[]
  /** A note this near its time is on time. */
  toleranceMs: number
}

/** A key of the loop, with its number among all of them. */
interface Stroke extends KeyStroke {
  stroke: number
}

/** How long before its beginning a round is laid out: its sounds are given to the transport as a whole. */
const ROUND_AHEAD_MS = 500
/** The visible beat is set at its moment, so far ahead of it at most. */
const BEAT_AHEAD_MS = 300
/** The last note of a pass may still be this late when the pass is judged, and at most this share of a beat. */
const AFTERWARDS_MS = 300
const AFTERWARDS_BEATS = 0.3
/** From the start command to the first click; when something else comes, time for the cue and for the hands. */
const LEAD_MS = 350
const CUE_MS = 900
/** The clock ticks every 25 ms; a gap of this length is sleep. */
const ASLEEP_MS = 3000

/**
 * The practice loop: count-in, rounds end to end on the page's clock, live marks (provisional), and after each round
 * its judgement, made elsewhere while the next one runs. A changed tempo or hand holds from the next round on. It waits
 * for nothing but the clock. Keys are stamped with the page's clock; the sound places every click of it on the audio
 * clock.
 */
export function usePracticeLoop(options: {
  arrangement: Arrangement
  /** The choice for each round, by its number from the beginning. */
  choice: (round: number) => LoopChoice
  metronome: () => boolean
  /** The accompaniment of a round, ms from its beginning. */
  accompany?: (round: LoopRound) => readonly SoundEvent[]
  roundBegins: (round: LoopRound) => void
  passEnded: (pass: EndedPass) => void
  /** Rounds that end with nothing more to come, as the clock was lost: the computer slept. */
  fellAsleep?: () => void
  judge?: Judge
  startSound?: () => Promise<Sound>
}) {
  const { arrangement, judge = useJudge(options.arrangement), startSound = useSound().start } = options
  const phase = ref<'stopped' | 'starting' | 'count-in' | 'playing'>('stopped')
  /** Why the loop could not start, for the player; '' when it could. */
  const problem = ref('')
  const current = shallowRef<LoopRound>()
  const marks = shallowRef<ReadonlyMap<number, LiveMark>>(new Map())
  const beat = shallowRef<Click>()
  const beatMsOf = ({ stretch, bpm }: Pick<LoopChoice, 'stretch' | 'bpm'>) => feltBeatMs(arrangement, stretch.from, bpm)

  let sound: Sound | undefined
  let ear: LiveEar = createLiveEar()
  let rounds: LoopRound[] = []
  let roundMarks = new Map<number, Map<number, LiveMark>>()
  let strokes: Stroke[] = []
  let strokeCount = 0
  let pedals: TakePedal[] = []
  /** The beats that are still to be seen. */
  let beats: Click[] = []
  let line: Line | undefined
  let isClicking = true
  /** The number of the round with which the loop was started or restarted. */
  let firstRound = 0
  let lastTickMs = 0
  let stopTicking: (() => void) | undefined
  /** Counts the beginnings: what an earlier one had planned is void. */
  let beginning = 0

  async function start() {
    if (phase.value !== 'stopped') return
    phase.value = 'starting'
    problem.value = ''
    try {
      judge.prepare()
      sound = await startSound()
    } catch (error) {
      phase.value = 'stopped'
      problem.value = `The sound could not be started (${messageOf(error)}).`
      return
    }
    // Stopped again before the sound was there.
    if ((phase.value as string) !== 'starting') return
    line = sound.line()
    isClicking = options.metronome()
    stopTicking = sound.everyTick(tick)
    begin(0, performance.now() + LEAD_MS)
  }

  /**
   * Lays out a first round behind its count-in, whose first click falls at a moment; nothing of what was before counts
   * any more.
   */
  function begin(round: number, firstClickMs: number) {
    ear = createLiveEar()
    rounds = []
    roundMarks = new Map()
    strokes = []
    strokeCount = 0
    pedals = []
    beats = []
    beginning++
    firstRound = round
    lastTickMs = performance.now()
    const first = layOut(round, 0)
    place(first, firstClickMs - (first.plan.countIn[0]?.atMs ?? 0))
    beats = [...first.plan.countIn.map(click => ({ ...click, atMs: first.startMs + click.atMs })), ...beats]
    if (isClicking) line!.add(clickEvents(first.plan.countIn), first.startMs)
    phase.value = 'count-in'
    marks.value = new Map()
    current.value = first
  }

  /** Leaves the round that has just begun and restarts with the present choice, after a soft cue and a count-in. */
  function moveOn(cue: Cue) {
    if (phase.value !== 'count-in' && phase.value !== 'playing') return
    line!.cut()
    sound!.cue(cue)
    begin((rounds.at(-1)?.round ?? -1) + 1, performance.now() + CUE_MS)
  }

  function stop() {
    if (phase.value === 'stopped') return
    const last = rounds[0]
    if (last && performance.now() >= last.startMs + last.plan.musicMs) finish(last)
    stopTicking?.()
    line?.cut()
    phase.value = 'stopped'
    beat.value = undefined
  }

  /** A message of any keyboard. */
  function hear(message: TimedMessage) {
    const event = keyEvent(message)
    if (!event || rounds.length === 0 || phase.value === 'stopped') return
    // When the key went down, as far as is known; the take keeps the times as they came.
    const atMs = event.atMs - (current.value?.keyboardDelayMs ?? 0)
    if (event.kind === 'pedal') {
      pedals.push({ atMs: event.atMs, down: event.down })
      return
    }
    if (event.kind === 'up') return void release(strokes, event.pitch, event.atMs)
    const first = rounds[0]!
    // Keys tried out during the count-in belong to no pass.
    if (phase.value === 'count-in' && atMs < first.startMs - beatMsOf(first) / 2) return
    if (isProgramsTurn(atMs)) return
    strokes.push({ stroke: strokeCount++, pitch: event.pitch, velocity: event.velocity, downMs: event.atMs })
    show(ear.hear(event.pitch, atMs))
  }

  function tick() {
    const now = performance.now()
    // The computer slept, or the page was frozen, so the player is not playing along.
    if (now - lastTickMs > ASLEEP_MS) {
      stop()
      return options.fellAsleep?.()
    }
    lastTickMs = now
    if (isClicking !== options.metronome()) turnClick(now)
    for (let last = rounds.at(-1)!; now > endOf(last) - ROUND_AHEAD_MS; last = rounds.at(-1)!) {
      place(layOut(last.round + 1, endOf(last)), endOf(last))
    }
    while (beats[0] && beats[0].atMs < now + BEAT_AHEAD_MS) {
      const click = beats.shift()!
      const from = beginning
      setTimeout(() => {
        if (phase.value !== 'stopped' && from === beginning) beat.value = click
      }, click.atMs - now)
    }
    show(ear.expireMissed(now))
    if (now >= rounds[0]!.startMs && phase.value === 'count-in') phase.value = 'playing'
    const playing = rounds.findLast(round => now >= round.startMs) ?? rounds[0]!
    if (playing !== current.value) {
      current.value = playing
      marks.value = roundMarks.get(playing.round) ?? new Map()
    }
    const oldest = rounds[0]!
    if (now > endOf(oldest) + Math.min(AFTERWARDS_MS, AFTERWARDS_BEATS * beatMsOf(oldest))) finish(oldest)
  }

  const endOf = (round: LoopRound) => round.startMs + round.plan.roundMs

  function layOut(round: number, startMs: number): LoopRound {
    const choice = options.choice(round - firstRound)
    const { stretch, hands, bpm, restBars } = choice
    const passage = playedPassage(arrangement, stretch, hands)
    return {
      round,
      startMs,
      ...choice,
      plan: loopPlan(arrangement, passage, bpm, restBars),
      expected: expectedNotes(arrangement, passage, bpm),
      toleranceMs: onTimeMs(earFor(choice.strictness), beatMsOf(choice)),
    }
  }

  function place(round: LoopRound, startMs: number) {
    round.startMs = startMs
    rounds.push(round)
    if (round.turn !== 'program')
      ear.addRound({ round: round.round, startMs, expected: round.expected, beatMs: beatMsOf(round) })
    beats.push(...round.plan.clicks.map(click => ({ ...click, atMs: startMs + click.atMs })))
    if (isClicking) line!.add(clicksOf(round), startMs)
    line!.add(options.accompany?.(round) ?? [], startMs)
    const { stretch, hands, bpm, plan } = round
    performance.mark('half-step:round', {
      startTime: startMs,
      detail: { round: round.round, bpm, stretch, hands, roundMs: plan.roundMs },
    })
    options.roundBegins(round)
  }

  /** What clicks in a round: as it was chosen, while the beats that are seen are always all of them. */
  function clicksOf({ stretch, hands, bpm, restBars, plan, click }: LoopRound): SoundEvent[] {
    if (!click || isPlain(click)) return clickEvents(plan.clicks)
    return clickEvents(loopPlan(arrangement, playedPassage(arrangement, stretch, hands), bpm, restBars, click).clicks)
  }

  /** The click falls silent at once, or returns with the next one. */
  function turnClick(now: number) {
    isClicking = !isClicking
    if (!isClicking) return line!.cut({ which: ({ voice }) => voice === CLICK_VOICE.id })
    for (const round of rounds) {
      const all = [
        ...(round === rounds[0] && phase.value === 'count-in' ? clickEvents(round.plan.countIn) : []),
        ...clicksOf(round),
      ]
      line!.add(
        all.filter(({ atMs }) => round.startMs + atMs > now),
        round.startMs,
      )
    }
  }

  /** The accompaniment has changed. */
  function rearrange() {
    if (!line || phase.value === 'stopped') return
    const now = performance.now()
    line.cut({ which: ({ voice }) => voice !== CLICK_VOICE.id })
    for (const round of rounds)
      line.add(
        (options.accompany?.(round) ?? []).filter(({ atMs }) => round.startMs + atMs > now),
        round.startMs,
      )
  }

  /**
   * Whether the program plays: what is tried out meanwhile belongs to no pass, but for the last half beat before the
   * player's turn.
   */
  function isProgramsTurn(atMs: number): boolean {
    const playing = rounds.findLast(round => atMs >= round.startMs) ?? rounds[0]!
    return playing.turn === 'program' && atMs < endOf(playing) - beatMsOf(playing) / 2
  }

  function show(changed: LiveMark[]) {
    for (const mark of changed) {
      const known = roundMarks.get(mark.round) ?? new Map<number, LiveMark>()
      roundMarks.set(mark.round, known.set(mark.index, mark))
    }
    const shown = current.value?.round
    if (changed.some(mark => mark.round === shown)) marks.value = new Map(roundMarks.get(shown!))
  }

  function finish(round: LoopRound) {
    const now = performance.now()
    const own = strokes.filter(stroke => ear.roundOf(stroke.stroke) === round.round)
    strokes = strokes.filter(stroke => ear.roundOf(stroke.stroke) > round.round)
    rounds = rounds.filter(one => one !== round)
    roundMarks.delete(round.round - 1)
    const take = takeOf(
      own,
      pedals.filter(({ atMs }) => atMs >= round.startMs && atMs < endOf(round)),
      { zeroMs: round.startMs, untilMs: now },
    )
    pedals = pedals.filter(({ atMs }) => atMs >= endOf(round))
    if (round.turn === 'program') return
    const { stretch, hands, bpm, restBars, strictness, keyboardDelayMs } = round
    const endedAt = new Date()
    void judge
      .judge({
        passage: playedPassage(arrangement, stretch, hands),
        take,
        mode: 'steady',
        bpm,
        strictness,
        offsetMs: keyboardDelayMs,
      })
      .then(({ assessment, failed }) => {
        performance.mark('half-step:pass', { detail: { round: round.round, score: assessment.summary.score } })
        options.passEnded({
          mode: 'steady',
          stretch,
          hands,
          bpm,
          restBars,
          strictness,
          keyboardDelayMs,
          take,
          assessment,
          failed,
          lengthMs: round.plan.musicMs,
          endedAt,
        })
      })
  }

  onScopeDispose(stop)

  const now = computed(() => (phase.value === 'stopped' ? undefined : current.value))
  const way: WayOfPractising = {
    now,
    expected: computed(() => now.value?.expected),
    marks,
    due: NOTHING_DUE,
    atMs: computed(() => now.value && (beat.value ? beat.value.atMs - now.value.startMs : -1)),
    start,
    stop,
    hear,
    rearrange,
  }
  return { way, phase, problem, current, marks, beat, start, stop, moveOn, rearrange, hear }
}
