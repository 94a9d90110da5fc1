import { groupScoreEvents } from '../ear/score-events'
import { tempoAt, type Arrangement, type Hands } from '../music/arrangement'
import { expectedNotes, spanPassage, type ScoreSpan } from '../music/passage'

/** The time a hand that does not know the place yet needs for a step (own choice; the first passes correct it). */
export const REACHING = {
  /** Seconds for one key beside the last one; for each further key; for each half step of distance beyond a third. */
  stepSeconds: 0.3,
  keySeconds: 0.06,
  waySeconds: 0.012,
  nearHalfSteps: 4,
  /** Bounds of the start as shares of the target tempo (common practice: begin at half to three quarters). */
  leastShare: 0.45,
  mostShare: 0.75,
  /** Hands together begin this much below the slower hand (common practice: slower than either alone). */
  togetherShare: 0.75,
} as const

/** How much the player can play already, in their own words. */
export type Experience = 'new' | 'some' | 'fluent'

/**
 * How experience changes the start: a factor on the hand's time for a step, and a shift of the bounds (own choice; the
 * first passes correct it).
 */
const EXPERIENCE: Record<Experience, { slower: number; shares: number }> = {
  new: { slower: 1.4, shares: -0.1 },
  some: { slower: 1, shares: 0 },
  fluent: { slower: 0.7, shares: 0.1 },
}

/**
 * The tempo, quarter notes a minute, at which the hardest event of a span just leaves the hand the time it needs,
 * within the usual bounds. `slowerHandBpm`: what the slower hand has reached alone; hands together begin below that.
 * `experience`: of the player; some by default.
 */
export function startingTempo(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  hands: Hands,
  targetBpm: number,
  { slowerHandBpm, experience = 'some' }: { slowerHandBpm?: number; experience?: Experience } = {},
): number {
  const { slower, shares } = EXPERIENCE[experience]
  const expected = expectedNotes(arrangement, spanPassage(stretch.from, stretch.to, hands), targetBpm)
  const moments = groupScoreEvents(expected)
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

/** The common slow tempo of slow-first practice: one for all parts, so that they can be joined as they are. */
export const SLOW = {
  /** Between these shares of the target tempo (common practice: about half to two thirds). */
  leastShare: 0.5,
  mostShare: 0.7,
} as const

/**
 * The share of a song's tempo at which its parts are learned and joined: the lower quartile of the parts' own starting
 * tempos, within bounds.
 */
export function slowShareOf(
  arrangement: Arrangement,
  parts: readonly ScoreSpan[],
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
