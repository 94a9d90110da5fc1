import type { ExpectedNote } from '../music/passage'
import { follow, type Step } from './follow'
import { momentsOf, type Moment } from './moments'
import { pairNotes, type Due, type Stroke } from './pair'
import type { EarParameters } from './parameters'
import { playerClock, type PlayerClock } from './player-clock'
import { attemptsOf, type Attempts } from './runs'
import type { TakeNote } from './take'

export interface AlignmentRequest {
  /** Sorted by due time; times in ms of score time, with a click on the strokes' own clock. */
  expected: readonly ExpectedNote[]
  /** Sorted by onset. */
  played: readonly TakeNote[]
  steady: boolean
  beatMs: number
  ear: EarParameters
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

/** The best explanation with both hands together. */
export function explain(request: AlignmentRequest): Explanation {
  const { expected, played, steady, beatMs, ear } = request
  const moments = momentsOf(expected)
  const along = (following: EarParameters['following']) =>
    pairAlong(request, moments, follow({ moments, strokes: played, steady, beatMs, following }))
  const free = along(ear.following)
  if (free.attempts.runs.length < 2) return free
  const straight = along({ ...ear.following, jump: Infinity, jumpAfterPause: Infinity, jumpIn: Infinity })
  return straight.cost <= free.cost ? straight : free
}

/** Pairs notes and strokes run by run, and says what the whole explanation costs. */
function pairAlong({ expected, played, beatMs, ear }: AlignmentRequest, moments: Moment[], steps: Step[]): Explanation {
  const { pairing, following } = ear
  const attempts = attemptsOf(steps, moments.length)
  const clock = playerClock(moments, played, steps, attempts)
  const momentOf = new Int32Array(expected.length)
  moments.forEach(({ notes }, moment) => { for (const note of notes) momentOf[note] = moment })
  const due = expected.map((note, index): Due => {
    const moment = momentOf[index]!
    const window = clock.window(moment)
    const before = (note.momentMs - note.onsetMs) * clock.ratio(moment)
    return {
      pitch: note.pitch, run: window ? attempts.runOfMoment[moment]! : -2,
      fromMs: (window?.fromMs ?? 0) - before, toMs: (window?.toMs ?? 0) - before,
      looseness: note.grace ? pairing.graceLooseness : note.ornaments || note.articulations?.includes('arpeggiate') ? pairing.rolledLooseness : 1,
      missed: pairing.missed,
    }
  })
  const strokes = played.map(({ pitch, onsetMs }, stroke): Stroke => {
    const { moment } = steps[stroke]!
    const isFree = moment >= 0 && moments[moment]!.free.includes(pitch)
    return { pitch, onsetMs, run: attempts.runOfStroke[stroke]!, extra: isFree ? pairing.ornament : pairing.extra }
  })
  const pairs = pairNotes({
    due, strokes, unsteadinessMs: clock.unsteadinessMs, beatMs, pairing,
    companions: (note, stroke) => expected[note]!.grace ? undefined : clock.withoutStroke(momentOf[note]!, stroke),
  })
  // An attempt that was given up is explained by the restart; every jump has its price.
  const { standsFor } = pairs
  const jumps = attempts.runs.slice(1).map((run, before) => run.firstMoment <= attempts.runs[before]!.lastMoment ? following.restart : following.jump)
  let cost = jumps.reduce((sum, jump) => sum + jump, pairs.cost)
  const lastMoment = Math.max(-1, ...attempts.runs.map(run => run.firstMoment))
  const used = new Uint8Array(played.length)
  standsFor.forEach((stroke, note) => {
    // What lies between two runs was jumped over, not missed note by note.
    if (stroke === null) cost += attempts.runOfMoment[momentOf[note]!]! < 0 && momentOf[note]! < lastMoment ? 0.3 : pairing.missed
    else used[stroke] = 1
  })
  strokes.forEach(({ extra, run }, stroke) => { if (!used[stroke]) cost += run < 0 && steps[stroke]!.moment >= 0 ? 0.3 : extra })
  return { standsFor, moments, momentOf, steps, attempts, clock, cost }
}
