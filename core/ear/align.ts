import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { follow, type Step } from './follow'
import { looseHand } from './loose-hand'
import { momentsOf, ORNAMENT_REACH, type Moment } from './moments'
import { pairNotes, type Due, type Stroke } from './pair'
import type { EarParameters } from './parameters'
import { playerClock, type PlayerClock } from './player-clock'
import { attemptsOf, type Attempts } from './runs'
import type { TakeNote } from './take'

export type Outcome = 'right' | 'wrong' | 'missed'

/** Why a stroke that stands for no note is not the player's fault: given up for a new start, part of an ornament, sent twice by the keyboard. */
export type ExtraReason = 'restart' | 'ornament' | 'doubled'

/** What became of each expected note, in the order of the expected notes, and the played notes that stand for none. */
export interface Alignment {
  outcomes: { outcome: Outcome, played: number | null }[]
  /** Indices of played notes, ascending. */
  extras: { played: number, reason?: ExtraReason }[]
  /** The moments as they are written, and for each expected note its moment. */
  moments: Moment[]
  momentOf: Int32Array
  /** The moments as they were followed, which attempts and clock speak of: a loose hand has its own. */
  followed: Pick<Explanation, 'moments' | 'momentOf' | 'attempts' | 'clock'>
  /** A hand that went by itself, so many take ms behind the other (negative: ahead). */
  loose?: { hand: Hand, lagMs: number }
}

export interface AlignmentRequest {
  /** Sorted by due time; times in ms of score time, with a click on the strokes' own clock. */
  expected: readonly ExpectedNote[]
  /** Sorted by onset. */
  played: readonly TakeNote[]
  steady: boolean
  beatMs: number
  ear: EarParameters
}

/**
 * Says which stroke stands for which note of a whole take. The player is first followed through the score, restarts and
 * gaps included; then each stretch played in one go has its notes paired by key and time. A way with jumps, or one hand
 * beside the other, is believed only when it explains the take better than the plain way. The work is linear in the length
 * of the take.
 */
export function alignTake(request: AlignmentRequest): Alignment {
  const { expected, played } = request
  const together = explain(request)
  const apart = looseHand(request, together, explain)
  const { standsFor, attempts, clock, moments, momentOf, steps } = apart?.explanation ?? together
  const outcomes = standsFor.map((stroke, index): Alignment['outcomes'][number] => stroke === null
    ? { outcome: 'missed', played: null }
    : { outcome: played[stroke]!.pitch === expected[index]!.pitch ? 'right' : 'wrong', played: stroke })
  return {
    outcomes, extras: extrasOf(request, standsFor, attempts, steps), moments: together.moments, momentOf: together.momentOf,
    followed: { moments, momentOf, attempts, clock },
    ...(apart ? { loose: { hand: apart.hand, lagMs: apart.lagMs } } : {}),
  }
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
  let cost = pairs.cost + (attempts.runs.length - 1) * following.jump
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

function extrasOf({ expected, played, ear }: AlignmentRequest, standsFor: readonly (number | null)[], attempts: Attempts, steps: readonly Step[]): Alignment['extras'] {
  const used = new Uint8Array(played.length)
  for (const stroke of standsFor) if (stroke !== null) used[stroke] = 1
  const twin = twins(played, ear.pairing.doubledMs, used)
  const trills = standsFor.flatMap((stroke, note) => {
    if (stroke === null || !expected[note]!.ornaments) return []
    const { pitch, durationMs } = expected[note]!
    const { onsetMs } = played[stroke]!
    // The strokes before the written note are its upper neighbour or its turn; behind it the ornament may be drawn out.
    return [{ pitch, fromMs: onsetMs - 300, toMs: onsetMs + 2 * Math.max(durationMs, 150) }]
  })
  return played.flatMap(({ pitch, onsetMs }, stroke): Alignment['extras'] => {
    if (used[stroke]) return []
    if (steps[stroke]!.moment >= 0 && attempts.runOfStroke[stroke]! < 0) return [{ played: stroke, reason: 'restart' }]
    if (twin[stroke]) return [{ played: stroke, reason: 'doubled' }]
    const adorns = trills.some(trill => Math.abs(trill.pitch - pitch) <= ORNAMENT_REACH && onsetMs >= trill.fromMs && onsetMs <= trill.toMs)
    return [adorns ? { played: stroke, reason: 'ornament' } : { played: stroke }]
  })
}

/** Strokes that follow another of their key too fast for a hand, or come so shortly before one that stands for a note. */
function twins(played: readonly TakeNote[], doubledMs: number, used: Uint8Array): Uint8Array {
  const twin = new Uint8Array(played.length)
  const last = new Map<number, number>()
  played.forEach(({ pitch, onsetMs }, stroke) => {
    const before = last.get(pitch)
    if (before !== undefined && onsetMs - played[before]!.onsetMs < doubledMs) {
      if (!used[stroke]) twin[stroke] = 1
      else if (!used[before]) twin[before] = 1
    }
    last.set(pitch, stroke)
  })
  return twin
}
