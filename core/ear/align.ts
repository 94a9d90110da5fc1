import { bisector } from 'd3-array'
import type { Hand } from '../music/arrangement'
import { displacedForAWhile, handDisplaced } from './displaced'
import { explain, isHopeless, type AlignmentRequest, type Explanation } from './explain'
import type { Step } from './follow'
import { looseHand } from './loose-hand'
import { ORNAMENT_REACH, type Moment } from './moments'
import type { PlayerClock } from './player-clock'
import { repeatsHeard, type RepeatHeard } from './repeats'
import type { Attempts } from './runs'
import type { TakeNote } from './take'

export type Outcome = 'right' | 'wrong' | 'missed'

/**
 * Why a stroke that stands for no note is not one of many extra notes: given up for a new start, part of an ornament,
 * sent twice by the keyboard, struck again under its tie, of a repeat taken once too often.
 */
export type ExtraReason = 'restart' | 'ornament' | 'doubled' | 'restruck' | 'repeat'

/** What became of each expected note, in the order of the expected notes, and the played notes that stand for none. */
export interface Alignment {
  outcomes: { outcome: Outcome; played: number | null }[]
  /**
   * Indices of played notes, ascending. `note`: the expected note that was struck again under its tie, and which of its
   * tied noteheads.
   */
  extras: { played: number; reason?: ExtraReason; note?: number; tie?: number }[]
  /** The moments as they are written, and for each expected note its moment. */
  moments: Moment[]
  momentOf: Int32Array
  /** The moments as they were followed, which attempts and clock speak of: a loose hand has its own. */
  followed: Pick<Explanation, 'moments' | 'momentOf' | 'attempts' | 'clock'>
  /** Repeats left out or taken once too often; in the followed moments. */
  repeats: RepeatHeard[]
  /** How often the player stopped and took up again: no repeats among them. */
  restarts: number
  /** A hand that went by itself, so many take ms behind the other (negative: ahead). */
  loose?: { hand: Hand; lagMs: number }
  /** A hand that lies so many half steps from where it is written, through the whole take. */
  displaced?: { hand: Hand; halfSteps: number }
}

/**
 * Says which stroke stands for which note of a whole take. The player is first followed through the score, restarts and
 * gaps included; then each stretch played in one go has its notes paired by key and time. A way with jumps, one hand
 * beside the other, or a hand that lies elsewhere is believed only when it explains the take better than the plain way.
 * The work is linear in the length of the take.
 */
export function alignTake(request: AlignmentRequest): Alignment {
  const { expected, played, bars = [] } = request
  const together = explain(request)
  const hopeless = isHopeless(request, together)
  const elsewhere = hopeless ? undefined : handDisplaced(request, together)
  const apart = hopeless || elsewhere ? undefined : looseHand(request, together)
  const { standsFor, attempts, clock, moments, momentOf, steps } =
    (elsewhere ?? apart)?.explanation ?? (hopeless ? together : displacedForAWhile(request, together))
  const outcomes = standsFor.map((stroke, index): Alignment['outcomes'][number] =>
    stroke === null
      ? { outcome: 'missed', played: null }
      : { outcome: played[stroke]!.pitch === expected[index]!.pitch ? 'right' : 'wrong', played: stroke },
  )
  const repeats = bars.length > 0 ? repeatsHeard(attempts, moments, expected, bars) : []
  return {
    outcomes,
    extras: extrasOf(request, standsFor, attempts, steps, clock, momentOf, repeats),
    moments: together.moments,
    momentOf: together.momentOf,
    followed: { moments, momentOf, attempts, clock },
    repeats,
    restarts: Math.max(0, attempts.restarts - repeats.filter(one => one.kind === 'taken-again').length),
    ...(apart ? { loose: { hand: apart.hand, lagMs: apart.lagMs } } : {}),
    ...(elsewhere ? { displaced: { hand: elsewhere.hand, halfSteps: elsewhere.halfSteps } } : {}),
  }
}

/** A tie is struck again within so many beats of its notehead. */
const TIE_REACH_BEATS = 0.45

function extrasOf(
  { expected, played, ear, beatMs }: AlignmentRequest,
  standsFor: readonly (number | null)[],
  attempts: Attempts,
  steps: readonly Step[],
  clock: PlayerClock,
  momentOf: Int32Array,
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
    const ratio = clock.ratio(momentOf[note]!)
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
    if (steps[stroke]!.moment >= 0 && attempts.runOfStroke[stroke]! < 0 && attempts.triedOut[stroke] === 0)
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

/**
 * Strokes that follow another of their key too fast for a hand, or come so shortly before one that stands for a note.
 */
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
