import type { Bar } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { distancePrice, follow, type Step } from './follow'
import { momentsOf, type Moment } from './moments'
import { pairNotes, type Due, type Stroke } from './pair'
import type { EarParameters } from './parameters'
import { playerClock, type PlayerClock } from './player-clock'
import { NO_TURNS, turnsOf, type Turns } from './repeats'
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

/** One way to understand a take, and what it costs to believe it. */
export interface Explanation {
  /** For each expected note its stroke, or null. */
  standsFor: (number | null)[]
  moments: Moment[]
  momentOf: Int32Array
  steps: Step[]
  attempts: Attempts
  clock: PlayerClock
  cost: number
}

/** The prices of following somebody who only goes straight on. */
export const NO_JUMPS = { jump: Infinity, jumpAfterPause: Infinity, jumpIn: Infinity, turn: Infinity } as const

/** The best explanation with both hands together. */
export function explain(request: AlignmentRequest): Explanation {
  const { expected, played, steady, beatMs, ear, bars } = request
  const moments = momentsOf(expected)
  const turns = bars ? turnsOf(moments, expected, bars) : NO_TURNS
  const along = (following: EarParameters['following']) =>
    pairAlong(request, moments, turns, follow({ moments, turns, strokes: played, steady, beatMs, following }))
  const together = along(ear.following)
  if (isHopeless(request, together)) return together
  // Whoever plays at quite another tempo is not to be looked for at the click.
  const isOffClick =
    steady &&
    (together.cost > expected.length ||
      Math.abs(Math.log(median(together.moments.map((_, moment) => together.clock.ratio(moment))))) >
        ear.tempo.otherTempo)
  const loose = isOffClick
    ? pairAlong(
        request,
        moments,
        turns,
        follow({ moments, turns, strokes: played, steady: false, beatMs, following: ear.following }),
      )
    : undefined
  const free = loose && loose.cost <= together.cost ? loose : together
  if (free.attempts.runs.length < 2) return free
  const straight = along({ ...ear.following, ...NO_JUMPS })
  return straight.cost <= free.cost ? straight : free
}

/**
 * Of a long take nearly none of which is this music nothing more is asked: so many strokes, and so small a share of
 * them right.
 */
const LONG_TAKE = 500
const RIGHT_SHARE = 0.2

/** Whether a long take is hardly of this music: other ways to understand it need not be tried. */
export function isHopeless({ played, expected }: AlignmentRequest, { standsFor }: Explanation): boolean {
  if (played.length < LONG_TAKE) return false
  const right = standsFor.reduce(
    (count: number, stroke, note) =>
      stroke !== null && played[stroke]!.pitch === expected[note]!.pitch ? count + 1 : count,
    0,
  )
  return right < RIGHT_SHARE * played.length
}

/** Pairs notes and strokes run by run, and says what the whole explanation costs. */
function pairAlong(
  { expected, played, beatMs, ear }: AlignmentRequest,
  moments: Moment[],
  turns: Turns,
  steps: Step[],
): Explanation {
  const { pairing, following } = ear
  const attempts = attemptsOf(steps, moments.length)
  const clock = playerClock(moments, played, steps, attempts)
  const momentOf = new Int32Array(expected.length)
  moments.forEach(({ notes }, moment) => {
    for (const note of notes) momentOf[note] = moment
  })
  const due = expected.map((note, index): Due => {
    const moment = momentOf[index]!
    const window = clock.window(moment)
    const before = (note.momentMs - note.onsetMs) * clock.ratio(moment)
    return {
      pitch: note.pitch,
      run: window ? attempts.runOfMoment[moment]! : -2,
      fromMs: (window?.fromMs ?? 0) - before,
      toMs: (window?.toMs ?? 0) - before,
      looseness: note.grace
        ? pairing.graceLooseness
        : note.ornaments || note.articulations?.includes('arpeggiate')
          ? pairing.rolledLooseness
          : 1,
      // A key that another voice has at the same moment is struck once.
      missed:
        moments[moment]!.pitches.indexOf(note.pitch) < moments[moment]!.notes.indexOf(index)
          ? pairing.shared
          : pairing.missed,
    }
  })
  // A key just before the first that was recognised may be the first note, played wrong.
  const begun = attempts.runs[0]?.from ?? 0
  const strokes = played.map(({ pitch, onsetMs }, stroke): Stroke => {
    const { moment } = steps[stroke]!
    const where = moment >= 0 ? moments[moment]! : undefined
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
    companions: (note, stroke) => (expected[note]!.grace ? undefined : clock.withoutStroke(momentOf[note]!, stroke)),
  })
  // An attempt that was given up is explained by the restart; every jump has its price.
  const { standsFor } = pairs
  const jumps = attempts.runs.slice(1).map((run, index) => {
    const before = attempts.runs[index]!
    if (turns.get(before.lastMoment)?.includes(run.firstMoment)) return following.turn
    return (
      (run.firstMoment <= before.lastMoment ? following.restart : following.jump) +
      distancePrice(following, run.firstMoment - before.lastMoment)
    )
  })
  let cost = jumps.reduce((sum, jump) => sum + jump, pairs.cost)
  const lastMoment = Math.max(-1, ...attempts.runs.map(run => run.firstMoment))
  const used = new Uint8Array(played.length)
  standsFor.forEach((stroke, note) => {
    // What lies between two runs was jumped over, not missed note by note.
    if (stroke === null)
      cost += attempts.runOfMoment[momentOf[note]!]! < 0 && momentOf[note]! < lastMoment ? 0.3 : pairing.missed
    else used[stroke] = 1
  })
  strokes.forEach(({ extra, run }, stroke) => {
    if (!used[stroke]) cost += run < 0 && steps[stroke]!.moment >= 0 && attempts.triedOut[stroke] === 0 ? 0.3 : extra
  })
  return { standsFor, moments, momentOf, steps, attempts, clock, cost }
}
