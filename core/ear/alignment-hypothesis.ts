import type { FollowedStroke } from './hypotheses'
import { type RepeatJumps, NO_REPEAT_JUMPS, repeatJumpsOf } from './repeat-jumps'
import type { Bar } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { jumpDistancePenalty, follow } from './follow'
import { groupScoreEvents, type ScoreEvent } from './score-events'
import { pairNotes, type DueNote, type Stroke } from './pair'
import type { EarParameters } from './parameters'
import { scoreTimeMap, type ScoreTimeMap } from './score-time-map'
import { attemptsOf, type Attempts } from './runs'
import { median } from './statistics'
import type { TakeNote } from './take'

export interface AlignmentRequest {
  /** Sorted by due time; times in ms of score time, with a click on the strokes' own clock. */
  expected: readonly ExpectedNote[]
  /** Sorted by onset. */
  played: readonly TakeNote[]
  steady: boolean
  beatMs: number
  ear: EarParameters
  /** The arrangement's bars, for its repeats. */
  bars?: readonly Bar[]
}

/** One way to match a take to the score, and its cost. */
export interface AlignmentHypothesis {
  /** For each expected note its stroke, or null. */
  standsFor: (number | null)[]
  events: ScoreEvent[]
  eventOf: Int32Array
  steps: FollowedStroke[]
  attempts: Attempts
  clock: ScoreTimeMap
  cost: number
}

/** The penalties that rule out jumps. */
export const NO_JUMPS = { jump: Infinity, jumpAfterPause: Infinity, jumpIn: Infinity, turn: Infinity } as const

/** The cheapest alignment with both hands together. */
export function bestAlignment(request: AlignmentRequest): AlignmentHypothesis {
  const { expected, played, steady, beatMs, ear, bars } = request
  const events = groupScoreEvents(expected)
  const turns = bars ? repeatJumpsOf(events, expected, bars) : NO_REPEAT_JUMPS
  const along = (following: EarParameters['following']) =>
    pairAlongPath(request, events, turns, follow({ events, turns, strokes: played, steady, beatMs, following }))
  const together = along(ear.following)
  if (isOtherMusic(request, together)) return together
  // At a very different tempo, align without the click.
  const isOffClick =
    steady &&
    (together.cost > expected.length ||
      Math.abs(Math.log(median(together.events.map((_, event) => together.clock.ratio(event))))) > ear.tempo.otherTempo)
  const loose = isOffClick
    ? pairAlongPath(
        request,
        events,
        turns,
        follow({ events, turns, strokes: played, steady: false, beatMs, following: ear.following }),
      )
    : undefined
  const free = loose && loose.cost <= together.cost ? loose : together
  if (free.attempts.runs.length < 2) return free
  const straight = along({ ...ear.following, ...NO_JUMPS })
  return straight.cost <= free.cost ? straight : free
}

/** A long take is other music when it has at least this many strokes and no more than this share of them is right. */
const LONG_TAKE = 500
const RIGHT_SHARE = 0.2

/** Whether a long take is hardly of this music, so that other hypotheses need not be tried. */
export function isOtherMusic({ played, expected }: AlignmentRequest, { standsFor }: AlignmentHypothesis): boolean {
  if (played.length < LONG_TAKE) return false
  const right = standsFor.reduce(
    (count: number, stroke, note) =>
      stroke !== null && played[stroke]!.pitch === expected[note]!.pitch ? count + 1 : count,
    0,
  )
  return right < RIGHT_SHARE * played.length
}

/** Pairs notes and strokes run by run, and adds up the cost of the whole hypothesis. */
function pairAlongPath(
  { expected, played, beatMs, ear }: AlignmentRequest,
  events: ScoreEvent[],
  turns: RepeatJumps,
  steps: FollowedStroke[],
): AlignmentHypothesis {
  const { pairing, following } = ear
  const attempts = attemptsOf(steps, events.length)
  const clock = scoreTimeMap(events, played, steps, attempts)
  const eventOf = new Int32Array(expected.length)
  events.forEach(({ notes }, event) => {
    for (const note of notes) eventOf[note] = event
  })
  const due = expected.map((note, index): DueNote => {
    const event = eventOf[index]!
    const window = clock.window(event)
    const before = (note.eventMs - note.onsetMs) * clock.ratio(event)
    return {
      pitch: note.pitch,
      run: window ? attempts.runOfEvent[event]! : -2,
      fromMs: (window?.fromMs ?? 0) - before,
      toMs: (window?.toMs ?? 0) - before,
      looseness: note.grace
        ? pairing.graceLooseness
        : note.ornaments || note.articulations?.includes('arpeggiate')
          ? pairing.rolledLooseness
          : 1,
      // A key written in two voices at the same time is struck once.
      missed:
        events[event]!.pitches.indexOf(note.pitch) < events[event]!.notes.indexOf(index)
          ? pairing.shared
          : pairing.missed,
    }
  })
  // A key just before the first that was recognised may be the first note, played wrong.
  const begun = attempts.runs[0]?.from ?? 0
  const strokes = played.map(({ pitch, onsetMs }, stroke): Stroke => {
    const { event } = steps[stroke]!
    const where = event >= 0 ? events[event]! : undefined
    const extra = where?.free.includes(pitch)
      ? pairing.ornament
      : where?.tied.includes(pitch)
        ? pairing.restruck
        : pairing.extra
    return { pitch, onsetMs, run: stroke < begun ? 0 : attempts.runOfStroke[stroke]!, extra }
  })
  const pairs = pairNotes({
    due,
    strokes,
    unsteadinessMs: clock.unsteadinessMs,
    beatMs,
    pairing,
    companions: (note, stroke) => (expected[note]!.grace ? undefined : clock.withoutStroke(eventOf[note]!, stroke)),
  })
  // Strokes of an abandoned attempt are explained by the restart; every jump has its penalty.
  const { standsFor } = pairs
  const jumps = attempts.runs.slice(1).map((run, index) => {
    const before = attempts.runs[index]!
    if (turns.get(before.lastEvent)?.includes(run.firstEvent)) return following.repeatJump
    return (
      (run.firstEvent <= before.lastEvent ? following.restart : following.jump) +
      jumpDistancePenalty(following, run.firstEvent - before.lastEvent)
    )
  })
  let cost = jumps.reduce((sum, jump) => sum + jump, pairs.cost)
  const lastEvent = Math.max(-1, ...attempts.runs.map(run => run.firstEvent))
  const used = new Uint8Array(played.length)
  standsFor.forEach((stroke, note) => {
    // Notes between two runs were jumped over, not missed one by one.
    if (stroke === null)
      cost += attempts.runOfEvent[eventOf[note]!]! < 0 && eventOf[note]! < lastEvent ? 0.3 : pairing.missed
    else used[stroke] = 1
  })
  strokes.forEach(({ extra, run }, stroke) => {
    if (!used[stroke]) cost += run < 0 && steps[stroke]!.event >= 0 && attempts.triedOut[stroke] === 0 ? 0.3 : extra
  })
  return { standsFor, events, eventOf, steps, attempts, clock, cost }
}
