import type { FollowedStroke } from './hypotheses'
import { bisector } from 'd3-array'
import type { Hand } from '../music/arrangement'
import { displacedForAWhile, handDisplaced } from './displaced'
import { bestAlignment, isOtherMusic, type AlignmentRequest, type AlignmentHypothesis } from './alignment-hypothesis'
import { alignLaggingHand } from './lagging-hand'
import { ORNAMENT_REACH, type ScoreEvent } from './score-events'
import type { ScoreTimeMap } from './score-time-map'
import { repeatsHeard, type RepeatHeard } from './repeats'
import type { Attempts } from './runs'
import type { TakeNote } from './take'

export type Outcome = 'right' | 'wrong' | 'missed'

/**
 * Why an unmatched stroke is not counted as an extra note: it belongs to an attempt given up at a restart, to an
 * ornament or a repeat taken once too often, was sent twice by the keyboard, or struck again under its tie.
 */
export type ExtraReason = 'restart' | 'ornament' | 'doubled' | 'restruck' | 'repeat'

/** The outcome of each expected note, in their order, and the played notes that match none. */
export interface Alignment {
  outcomes: { outcome: Outcome; played: number | null }[]
  /**
   * Indices of played notes, ascending. `note`: the expected note struck again under its tie, and which of its tied
   * noteheads.
   */
  extras: { played: number; reason?: ExtraReason; note?: number; tie?: number }[]
  /** The events as written, and the event of each expected note. */
  events: ScoreEvent[]
  eventOf: Int32Array
  /** The events as followed, which `attempts` and `clock` refer to: a lagging hand has events of its own. */
  followed: Pick<AlignmentHypothesis, 'events' | 'eventOf' | 'attempts' | 'clock'>
  /** Repeats left out or taken once too often, in followed events. */
  repeats: RepeatHeard[]
  /** How often the player stopped and started again; repeats are not counted. */
  restarts: number
  /** A hand that went by itself, and its lag behind the other in take ms (negative: ahead). */
  loose?: { hand: Hand; lagMs: number }
  /** A hand displaced through the whole take, and by how many half steps. */
  displaced?: { hand: Hand; halfSteps: number }
}

/**
 * Matches the strokes of a whole take to written notes. The player is first followed through the score, restarts and
 * gaps included; then each run has its notes paired by key and time. Jumps, a lagging hand or a displaced hand are
 * accepted only when they explain the take better than straight playing does. Linear in the length of the take.
 */
export function alignTake(request: AlignmentRequest): Alignment {
  const { expected, played, bars = [] } = request
  const together = bestAlignment(request)
  const hopeless = isOtherMusic(request, together)
  const elsewhere = hopeless ? undefined : handDisplaced(request, together)
  const apart = hopeless || elsewhere ? undefined : alignLaggingHand(request, together)
  const { standsFor, attempts, clock, events, eventOf, steps } =
    (elsewhere ?? apart)?.explanation ?? (hopeless ? together : displacedForAWhile(request, together))
  const outcomes = standsFor.map((stroke, index): Alignment['outcomes'][number] =>
    stroke === null
      ? { outcome: 'missed', played: null }
      : { outcome: played[stroke]!.pitch === expected[index]!.pitch ? 'right' : 'wrong', played: stroke },
  )
  const repeats = bars.length > 0 ? repeatsHeard(attempts, events, expected, bars) : []
  return {
    outcomes,
    extras: extrasOf(request, standsFor, attempts, steps, clock, eventOf, repeats),
    events: together.events,
    eventOf: together.eventOf,
    followed: { events, eventOf, attempts, clock },
    repeats,
    restarts: Math.max(0, attempts.restarts - repeats.filter(one => one.kind === 'taken-again').length),
    ...(apart ? { loose: { hand: apart.hand, lagMs: apart.lagMs } } : {}),
    ...(elsewhere ? { displaced: { hand: elsewhere.hand, halfSteps: elsewhere.halfSteps } } : {}),
  }
}

/** How far from its notehead a tied note may be struck again, in beats. */
const TIE_REACH_BEATS = 0.45

function extrasOf(
  { expected, played, ear, beatMs }: AlignmentRequest,
  standsFor: readonly (number | null)[],
  attempts: Attempts,
  steps: readonly FollowedStroke[],
  clock: ScoreTimeMap,
  eventOf: Int32Array,
  repeats: readonly RepeatHeard[],
): Alignment['extras'] {
  const used = new Uint8Array(played.length)
  for (const stroke of standsFor) if (stroke !== null) used[stroke] = 1
  const twin = twins(played, ear.pairing.doubledMs, used)
  const trills = standsFor
    .flatMap((stroke, note) => {
      if (stroke === null || !expected[note]!.ornaments) return []
      const { pitch, durationMs } = expected[note]!
      const { onsetMs } = played[stroke]!
      // The strokes before the written note are its upper neighbour or its turn; behind it the ornament may be drawn
      // out.
      return [{ pitch, fromMs: onsetMs - 300, toMs: onsetMs + 2 * Math.max(durationMs, 150) }]
    })
    .sort((a, b) => a.fromMs - b.fromMs)
  const longest = trills.reduce((most, one) => Math.max(most, one.toMs - one.fromMs), 0)
  const ties = new Map<number, { note: number; tie: number; atMs: number; reachMs: number }[]>()
  expected.forEach(({ pitch, ties: heads }, note) => {
    const stroke = standsFor[note]
    if (stroke == null || !heads) return
    const ratio = clock.ratio(eventOf[note]!)
    heads.forEach(({ atMs }, tie) => {
      const list = ties.get(pitch) ?? []
      ties.set(pitch, list)
      list.push({
        note,
        tie,
        atMs: played[stroke]!.onsetMs + (atMs - expected[note]!.onsetMs) * ratio,
        reachMs: TIE_REACH_BEATS * beatMs * ratio,
      })
    })
  })
  for (const list of ties.values()) list.sort((a, b) => a.atMs - b.atMs)
  const struckTies = new Set<string>()
  const again = repeats.filter(one => one.kind === 'taken-again')
  return played.flatMap(({ pitch, onsetMs }, stroke): Alignment['extras'] => {
    if (used[stroke]) return []
    if (again.some(one => stroke >= one.from && stroke <= one.to)) return [{ played: stroke, reason: 'repeat' }]
    if (steps[stroke]!.event >= 0 && attempts.runOfStroke[stroke]! < 0 && attempts.triedOut[stroke] === 0)
      return [{ played: stroke, reason: 'restart' }]
    if (twin[stroke]) return [{ played: stroke, reason: 'doubled' }]
    for (let at = trillBy.left(trills, onsetMs - longest); at < trills.length && trills[at]!.fromMs <= onsetMs; at++) {
      if (Math.abs(trills[at]!.pitch - pitch) <= ORNAMENT_REACH && onsetMs <= trills[at]!.toMs)
        return [{ played: stroke, reason: 'ornament' }]
    }
    const heads = ties.get(pitch)
    const head = heads?.[tieBy.center(heads, onsetMs)]
    if (head && Math.abs(head.atMs - onsetMs) <= head.reachMs && !struckTies.has(`${head.note}:${head.tie}`)) {
      struckTies.add(`${head.note}:${head.tie}`)
      return [{ played: stroke, reason: 'restruck', note: head.note, tie: head.tie }]
    }
    return [{ played: stroke }]
  })
}

const trillBy = bisector((trill: { fromMs: number }) => trill.fromMs)
const tieBy = bisector((tie: { atMs: number }) => tie.atMs)

/** Strokes that repeat their key faster than a hand can, or fall just before one that matches a note. */
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
