import { momentsOf } from '../ear/moments'
import { tempoAt, type Arrangement, type Hands } from '../music/arrangement'
import { expectedNotes, stretchPassage, type Stretch } from '../music/passage'

/** How long a hand that does not know the place yet needs for a step (own choice; the first passes put it right). */
export const REACHING = {
  /** For one key beside the last one, seconds; for each further key; for each half step of way beyond a third. */
  stepSeconds: 0.3,
  keySeconds: 0.06,
  waySeconds: 0.012,
  nearHalfSteps: 4,
  /** The start lies between these shares of the target tempo (common practice: begin at half to three quarters). */
  leastShare: 0.45,
  mostShare: 0.75,
  /** Together begins this much below the slower hand (common practice: slower than either alone). */
  togetherShare: 0.75,
} as const

/** How much a player can play already, as they say it themselves. */
export type Experience = 'new' | 'some' | 'fluent'

/**
 * What experience does to the beginning: so many times the hand's time for a step, and shares of the target further up
 * or down (own choice; the first passes put it right).
 */
const EXPERIENCE: Record<Experience, { slower: number; shares: number }> = {
  new: { slower: 1.4, shares: -0.1 },
  some: { slower: 1, shares: 0 },
  fluent: { slower: 0.7, shares: 0.1 },
}

/**
 * The tempo, quarter notes a minute, at which a stretch's hardest moment just leaves the hand the time that it needs,
 * within usual bounds of the target. `slowerHandBpm`: what the slower hand has reached alone; together begins below
 * that. `experience`: of the player; without it some.
 */
export function startingTempo(
  arrangement: Arrangement,
  stretch: Stretch,
  hands: Hands,
  targetBpm: number,
  { slowerHandBpm, experience = 'some' }: { slowerHandBpm?: number; experience?: Experience } = {},
): number {
  const { slower, shares } = EXPERIENCE[experience]
  const expected = expectedNotes(arrangement, stretchPassage(stretch.from, stretch.to, hands), targetBpm)
  const moments = momentsOf(expected)
  let share = 1
  moments.forEach(({ atMs, notes }, index) => {
    const before = moments[index - 1]
    const seconds = before ? (atMs - before.atMs) / 1000 : 0
    if (!before || seconds < 0.02) return
    let way = 0
    for (const note of notes) {
      const { hand, pitch } = expected[note]!
      const from = before.notes
        .filter(one => expected[one]!.hand === hand)
        .map(one => Math.abs(expected[one]!.pitch - pitch))
      if (from.length > 0) way = Math.max(way, Math.min(...from))
    }
    const needed =
      REACHING.stepSeconds +
      REACHING.keySeconds * (notes.length - 1) +
      REACHING.waySeconds * Math.max(0, way - REACHING.nearHalfSteps)
    share = Math.min(share, seconds / (slower * needed))
  })
  const [least, most] = [REACHING.leastShare + shares, REACHING.mostShare + shares]
  const bounded = Math.min(most, Math.max(least, share)) * targetBpm
  return slowerHandBpm === undefined
    ? bounded
    : Math.max(least * targetBpm, Math.min(bounded, REACHING.togetherShare * slowerHandBpm))
}

/**
 * How slowly a song begins when it is learned slowly first: one tempo for all its parts together, so that they can be
 * joined as they are.
 */
export const SLOW = {
  /** Between these shares of the target tempo (common practice: about half to two thirds). */
  leastShare: 0.5,
  mostShare: 0.7,
} as const

/**
 * The share of a song's tempo at which its parts are learned and joined: what its harder parts ask for (the lower
 * quartile of their own starting tempos), within usual bounds.
 */
export function slowShareOf(
  arrangement: Arrangement,
  parts: readonly Stretch[],
  targetShare: number,
  experience: Experience = 'some',
): number {
  const shares = parts
    .map(part => {
      const target = tempoAt(arrangement, part.from) * targetShare
      return startingTempo(arrangement, part, 'both', target, { experience }) / target
    })
    .sort((a, b) => a - b)
  const { shares: further } = EXPERIENCE[experience]
  const [least, most] = [SLOW.leastShare + further, SLOW.mostShare + further]
  return Math.min(most, Math.max(least, shares[Math.floor((shares.length - 1) / 4)] ?? most))
}
