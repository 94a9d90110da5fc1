import type { Hand } from '../music/arrangement'
import { explain, type AlignmentRequest, type Explanation } from './explain'
import type { Step } from './follow'
import { looseHand } from './loose-hand'
import { ORNAMENT_REACH, type Moment } from './moments'
import type { Attempts } from './runs'
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

/**
 * Says which stroke stands for which note of a whole take. The player is first followed through the score, restarts and
 * gaps included; then each stretch played in one go has its notes paired by key and time. A way with jumps, or one hand
 * beside the other, is believed only when it explains the take better than the plain way. The work is linear in the length
 * of the take.
 */
export function alignTake(request: AlignmentRequest): Alignment {
  const { expected, played } = request
  const together = explain(request)
  const apart = looseHand(request, together)
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
