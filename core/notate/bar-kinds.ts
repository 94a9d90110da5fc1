import { barLength, feltBeatQuarters, isCompound, type Meter } from '../music/meter'
import { toDecimal } from '../music/quarters'

/**
 * A way to count music in bars: the rank of each pulse in the bar, and what that means in print. Ranks: 0 the first
 * beat, 1 the beat in the middle, 2 other beats, 3 halves (in 6/8 and the like the parts) of beats, 4 what is finer
 * (common practice).
 */
export interface BarKind {
  meter: Meter
  /** Pulses to a quarter note. */
  pulses: number
  ranks: readonly number[]
  /** The prior cost, as a negative log likelihood. */
  rare: number
}

const inQuarters = (beats: number): Meter => ({ beats, beatType: 4 })
const SIX_EIGHT: Meter = { beats: 6, beatType: 8 }

function barKind(meter: Meter, pulses: number, rare: number): BarKind {
  const beat = feltBeatQuarters(meter) * pulses
  const part = isCompound(meter) ? beat / 3 : pulses % 2 === 0 ? beat / 2 : 1
  const length = toDecimal(barLength(meter)) * pulses
  const middle = meter.beats % 2 === 0 && meter.beats > 2 ? length / 2 : undefined
  const ranks = Array.from({ length }, (_, place) =>
    place === 0 ? 0 : place === middle ? 1 : place % beat === 0 ? 2 : place % part === 0 ? 3 : 4,
  )
  return { meter, pulses, ranks, rare }
}

/** The kinds of bars looked for; rarer ones need more evidence (own choice). */
export const BAR_KINDS: readonly BarKind[] = [
  barKind(inQuarters(4), 2, 0),
  barKind(inQuarters(4), 4, 0),
  barKind(inQuarters(4), 3, 4),
  barKind(inQuarters(3), 2, 2),
  barKind(inQuarters(3), 4, 2),
  barKind(inQuarters(3), 3, 8),
  barKind(inQuarters(2), 2, 6),
  barKind(inQuarters(2), 4, 2),
  barKind(SIX_EIGHT, 2, 4),
  barKind(SIX_EIGHT, 4, 6),
  barKind(inQuarters(5), 2, 8),
  barKind(inQuarters(5), 4, 8),
]

/** The statistics of the places of each rank: how often something is struck there, and how much it stands out. */
export interface Knowledge {
  struck: number[]
  standing: number[]
  spread: number
}

/** Own choice: the prior statistics, how many places they count as, and the smallest spread of standing out. */
const BEFORE: Knowledge = { struck: [0.9, 0.8, 0.75, 0.4, 0.15], standing: [0.55, 0.4, 0.3, 0.2, 0.12], spread: 0.25 }
const COUNTS_AS = 10
const MIN_SPREAD = 0.12

/** Two starting points: music that strikes few of the finer places, and music that strikes nearly all. */
export const BEGINNINGS: readonly Knowledge[] = [BEFORE, { ...BEFORE, struck: [0.95, 0.93, 0.93, 0.9, 0.85] }]

/**
 * The statistics of a piece by rank. `places`: in pulses from a bar line, not decreasing; `accents`: how much each
 * stands out, 0 to 1.
 */
export function learn(ranks: readonly number[], places: readonly number[], accents: readonly number[]): Knowledge {
  const known = BEFORE
  const struck = known.struck.map(share => share * COUNTS_AS)
  const passed = known.struck.map(() => COUNTS_AS)
  const standing = known.standing.map(mean => mean * COUNTS_AS)
  const heard = known.standing.map(() => COUNTS_AS)
  const rankAt = (place: number) => ranks[place % ranks.length]!
  places.forEach((place, index) => {
    const rank = rankAt(place)
    if (place !== places[index - 1]) struck[rank]!++
    standing[rank]! += accents[index]!
    heard[rank]!++
  })
  for (let place = places[0] ?? 0; place <= (places.at(-1) ?? -1); place++) passed[rankAt(place)]!++
  const means = standing.map((sum, rank) => sum / heard[rank]!)
  const squares = places.reduce(
    (sum, place, index) => sum + (accents[index]! - means[rankAt(place)]!) ** 2,
    COUNTS_AS * known.spread ** 2,
  )
  return {
    struck: struck.map((count, rank) => Math.min(0.98, Math.max(0.02, count / passed[rank]!))),
    standing: means,
    spread: Math.max(MIN_SPREAD, Math.sqrt(squares / (places.length + COUNTS_AS))),
  }
}

/** The cost, as a negative log likelihood, of a strike with this accent at a place of this rank, and of no strike. */
export const strikeCost = ({ struck, standing, spread }: Knowledge, rank: number, accent: number): number =>
  -Math.log(struck[rank]!) + ((accent - standing[rank]!) / spread) ** 2 / 2 + Math.log(spread)
export const silenceCost = ({ struck }: Knowledge, rank: number): number => -Math.log(1 - struck[rank]!)
