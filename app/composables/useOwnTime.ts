import type { LiveMark } from '#core/ear/live'
import { waitForKeys } from '#core/ear/own-time'
import { byOnset, keyEvent, type Take, type TimedMessage } from '#core/ear/take'
import type { Arrangement } from '#core/music/arrangement'
import { expectedNotes, playedPassage, type ExpectedNote } from '#core/music/passage'
import type { MidiPitch } from '#core/music/pitch'
import type { Judge } from './useJudge'
import type { EndedPass, LoopChoice } from './usePracticeLoop'

/** From the last key of a pass to the next pass: time to hear it end. */
const PAUSE_MS = 900

/**
 * Practice in the player's own time: no clock, the program waits for the keys of each moment. When all have come the pass is judged and the
 * next one waits. What is not played to its end is no pass.
 */
export function useOwnTime(options: {
  arrangement: Arrangement
  choice: () => LoopChoice
  /** The keys that are waited for now. */
  waitsFor: (pitches: readonly MidiPitch[]) => void
  passEnded: (pass: EndedPass) => void
  judge?: Judge
}) {
  const judge = options.judge ?? useJudge(options.arrangement)
  const isRunning = ref(false)
  const current = shallowRef<{ choice: LoopChoice, expected: ExpectedNote[] }>()
  const marks = shallowRef<ReadonlyMap<number, LiveMark>>(new Map())
  const wanted = shallowRef<readonly MidiPitch[]>([])
  /** The notes of the moment that is waited for, by index. */
  const due = shallowRef<readonly number[]>([])

  let waiting: ReturnType<typeof waitForKeys> | undefined
  let strokes: { pitch: MidiPitch, velocity: number, downMs: number, upMs?: number }[] = []
  let pedals: { atMs: number, down: boolean }[] = []
  let pause: ReturnType<typeof setTimeout> | undefined
  let passes = 0

  function start() {
    stop()
    const choice = options.choice()
    const expected = expectedNotes(options.arrangement, playedPassage(options.arrangement, choice.stretch, choice.hands), choice.bpm)
    waiting = waitForKeys(expected)
    judge.prepare()
    strokes = []
    pedals = []
    current.value = { choice, expected }
    marks.value = new Map()
    isRunning.value = true
    performance.mark('half-step:waiting', { detail: { pass: passes, stretch: choice.stretch, hands: choice.hands } })
    ask()
  }

  function stop() {
    clearTimeout(pause)
    pause = undefined
    waiting = undefined
    isRunning.value = false
    wanted.value = []
    due.value = []
  }

  /** Shows what is waited for; at each new moment, whoever plays is asked once. */
  function ask(isNewMoment = true) {
    wanted.value = waiting?.wanted() ?? []
    due.value = waiting?.moments[waiting.at()]?.notes ?? []
    if (isNewMoment) options.waitsFor(wanted.value)
  }

  function hear(message: TimedMessage) {
    const event = keyEvent(message)
    if (!event || !waiting || pause !== undefined) {
      // The last key comes up while the pass is being listened to.
      if (event?.kind === 'up') release(event.pitch, event.atMs)
      return
    }
    if (event.kind === 'pedal') pedals.push({ atMs: event.atMs, down: event.down })
    else if (event.kind === 'up') release(event.pitch, event.atMs)
    else {
      const stroke = waiting.hear(event.pitch)
      strokes.push({ pitch: event.pitch, velocity: event.velocity, downMs: event.atMs })
      if (stroke.kind === 'right') mark(stroke.notes, 'right', event.pitch)
      if (stroke.kind === 'wrong') mark(due.value.filter(note => marks.value.get(note)?.outcome !== 'right'), 'wrong', event.pitch)
      if (waiting.isOver()) pause = setTimeout(end, PAUSE_MS)
      if (stroke.kind === 'right') ask(stroke.completes)
    }
  }

  function release(pitch: MidiPitch, atMs: number) {
    const held = strokes.findLast(stroke => stroke.pitch === pitch && stroke.upMs === undefined)
    if (held) held.upMs = atMs
  }

  function mark(notes: readonly number[], outcome: 'right' | 'wrong', pitch: MidiPitch) {
    const next = new Map(marks.value)
    for (const index of notes) next.set(index, { round: passes, index, outcome, playedPitch: pitch, deviationMs: outcome === 'right' ? 0 : null })
    marks.value = next
  }

  function end() {
    const { choice } = current.value!
    const firstMs = strokes[0]!.downMs
    const lastMs = Math.max(...strokes.map(stroke => stroke.upMs ?? stroke.downMs))
    const take: Take = {
      notes: strokes.map(({ pitch, velocity, downMs, upMs }) => ({ pitch, velocity, onsetMs: downMs - firstMs, durationMs: Math.max(0, (upMs ?? lastMs) - downMs) })).sort(byOnset),
      pedals: pedals.map(({ atMs, down }) => ({ atMs: atMs - firstMs, down })),
    }
    const { hands, bpm, stretch, strictness } = choice
    const endedAt = new Date()
    const [ended, round] = [waiting, ++passes]
    void judge.judge({ passage: playedPassage(options.arrangement, stretch, hands), take, mode: 'own-time', bpm, strictness }).then(({ assessment, failed }) => {
      // Unless it was begun anew meanwhile.
      if (waiting === ended) stop()
      performance.mark('half-step:pass', { detail: { round, score: assessment.summary.score } })
      options.passEnded({ ...choice, mode: 'own-time', take, assessment, failed, lengthMs: lastMs - firstMs, endedAt })
    })
  }

  onScopeDispose(stop)
  return { isRunning, current, marks, wanted, due, start, stop, hear }
}
