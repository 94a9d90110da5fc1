import { bisectLeft, sum } from 'd3-array'
import type { Meter } from '../music/meter'
import { BAR_KINDS, BEGINNINGS, learn, silenceCost, strikeCost, type BarKind, type Knowledge } from './bar-kinds'

/**
 * How the pulse of free playing is found: Viterbi decoding of a metrical hidden Markov model, over the length of a
 * pulse and the place in the bar at once (in the manner of Nakamura, Yoshii and Sagayama 2017; unchecked), for each
 * of several kinds of bars, of which the likeliest is taken. What is struck at a place, and how much it stands out,
 * goes by its rank in the bar and is learned from the piece. The values are own choice.
 */
export const PULSE = {
  /** Lengths of a pulse, ms, and the ratio from one to the next. */
  shortestMs: 70,
  longestMs: 700,
  step: 1.04,
  /** How far a step lies from whole pulses: ms, and a share of the step; and the most that can say against it. */
  unsteadyMs: 14,
  unsteadyStep: 0.1,
  most: 14,
  /** A longer step is no less steady; and a silence says no more than this. */
  longMs: 2_000,
  mostSilent: 12,
  /** Events closer than this may be one event struck as two, and their usual distance, ms. */
  together: 3,
  apartMs: 45,
  /** The cost of another pulse length, for each step squared; and the most steps at once. */
  bend: 0.3,
  mostBend: 2,
  bendPulses: 2,
  /** The usual length of a quarter note, ms, and what an octave off says against it. */
  usualQuarterMs: 620,
  unusual: 50,
  /**
   * Another place for a moment at which a bar is known to begin; and over how many moments before it the ways that lead
   * there are kept, however dear.
   */
  elsewhere: 1_000,
  leads: 32,
  /** Paths costlier than the best by this are pruned. */
  beam: 14,
  /**
   * From how many moments the kinds of bars are compared: roughly at first, and those that come near the best more
   * closely.
   */
  roughly: 120,
  closely: 400,
  near: 60,
} as const

/** A moment at which something was struck, and from 0 to 1 how much it stands out. */
export interface PulseEvent {
  atMs: number
  accent: number
  /** A bar is known to begin here. */
  beginsBar?: boolean
}

/**
 * The decoded pulse: the place of each event in pulses from a bar line, whole numbers that never decrease; pulses to a
 * quarter note; and the meter.
 */
export interface Pulse {
  places: number[]
  pulses: number
  meter: Meter
}

interface Reading {
  kind: BarKind
  known: Knowledge
  cost: number
}

/** The pulse of some moments, sorted by time. `meter`: where it is known. Linear in the number of moments. */
export function findPulse(moments: readonly PulseEvent[], meter?: Meter): Pulse {
  const asked = BAR_KINDS.filter(
    kind => meter === undefined || (kind.meter.beats === meter.beats && kind.meter.beatType === meter.beatType),
  )
  let readings = (asked.length > 0 ? asked : BAR_KINDS).map((kind): Reading =>
    cheapest(BEGINNINGS.map(known => listen(moments.slice(0, PULSE.roughly), { kind, known, cost: 0 }))),
  )
  if (moments.length > PULSE.roughly) {
    const least = Math.min(...readings.map(one => one.cost))
    readings = readings
      .filter(one => one.cost <= least + PULSE.near)
      .map(one => listen(moments.slice(0, PULSE.closely), one))
  }
  const { kind, known: learned } = cheapest(readings)
  return { places: decode(moments, kind, learned).places, pulses: kind.pulses, meter: kind.meter }
}

const cheapest = (readings: readonly Reading[]) => readings.reduce((best, one) => (one.cost < best.cost ? one : best))

/** A kind of bar heard in some moments: what is learned of it, and how little speaks for it. */
function listen(moments: readonly PulseEvent[], { kind, known }: Reading): Reading {
  const accents = moments.map(moment => moment.accent)
  const learned = learn(kind.ranks, decode(moments, kind, known).places, accents)
  const { places, cost } = decode(moments, kind, learned)
  const span = places.length > 0 ? places.at(-1)! - places[0]! : 0
  const pulseMs = span > 0 ? (moments.at(-1)!.atMs - moments[0]!.atMs) / span : PULSE.usualQuarterMs / kind.pulses
  return { kind, known: learn(kind.ranks, places, accents), cost: cost + kind.rare + unusual(pulseMs, kind) }
}

/** The prior of the tempo for a way of counting: once where it begins, and once overall, since it can wander. */
const unusual = (pulseMs: number, { pulses }: BarKind): number =>
  PULSE.unusual * Math.log2((pulseMs * pulses) / PULSE.usualQuarterMs) ** 2

const LENGTHS_MS = Array.from(
  { length: Math.ceil(Math.log(PULSE.longestMs / PULSE.shortestMs) / Math.log(PULSE.step)) },
  (_, index) => PULSE.shortestMs * PULSE.step ** index,
)

/** The likeliest path through the events for one kind of bar, and its negative log likelihood. */
function decode(moments: readonly PulseEvent[], kind: BarKind, known: Knowledge): { places: number[]; cost: number } {
  if (moments.length === 0) return { places: [], cost: 0 }
  const { ranks } = kind
  const cycle = ranks.length
  const states = LENGTHS_MS.length * cycle
  const silent = ranks.map(rank => silenceCost(known, rank))
  const round = sum(silent)
  // What it costs that nothing is struck on so many places from the first: of two bars, so that any stretch can be read
  // off.
  const sums = new Float64Array(2 * cycle + 1)
  for (let place = 0; place < 2 * cycle; place++) sums[place + 1] = sums[place]! + silent[place % cycle]!
  const quiet = (from: number, count: number) =>
    Math.min(PULSE.mostSilent, Math.floor(count / cycle) * round + sums[from + (count % cycle)]! - sums[from]!)
  const placeCosts = ({ accent, beginsBar }: PulseEvent) =>
    ranks.map((rank, place) => strikeCost(known, rank, accent) + (beginsBar && place > 0 ? PULSE.elsewhere : 0))
  const first = placeCosts(moments[0]!)
  const tempo = LENGTHS_MS.map(pulseMs => unusual(pulseMs, kind))
  let cost = Float64Array.from(
    { length: states },
    (_, state) => first[state % cycle]! + tempo[Math.floor(state / cycle)]!,
  )
  const barLines = moments.flatMap((moment, index) => (moment.beginsBar ? [index] : []))
  let next = new Float64Array(states)
  const origins: Uint16Array[] = []
  const counts: Uint32Array[] = []
  for (let index = 1; index < moments.length; index++) {
    const stepMs = moments[index]!.atMs - moments[index - 1]!.atMs
    next.fill(Infinity)
    const origin = new Uint16Array(states)
    const count = new Uint32Array(states)
    const here = placeCosts(moments[index]!)
    let least = Infinity
    for (let state = 0; state < states; state++) if (cost[state]! < least) least = cost[state]!
    // Where a bar is known to begin, the path there may have been far from the cheapest.
    const nextBarLine = barLines[bisectLeft(barLines, index)]
    const dearest =
      least + (nextBarLine !== undefined && nextBarLine - index < PULSE.leads ? PULSE.elsewhere : PULSE.beam)
    const spread = Math.hypot(PULSE.unsteadyMs, PULSE.unsteadyStep * Math.min(stepMs, PULSE.longMs))
    const reach = 3 * spread
    for (let from = 0; from < LENGTHS_MS.length; from++) {
      for (let place = 0; place < cycle; place++) {
        const before = cost[from * cycle + place]!
        if (before > dearest) continue
        for (
          let length = Math.max(0, from - PULSE.mostBend);
          length <= Math.min(LENGTHS_MS.length - 1, from + PULSE.mostBend);
          length++
        ) {
          const pulseMs = LENGTHS_MS[length]!
          const nearest = Math.round(stepMs / pulseMs)
          const bend = PULSE.bend * (from - length) ** 2
          for (
            let pulses =
              stepMs < 3 * PULSE.apartMs ? 0 : Math.min(nearest, Math.max(0, Math.ceil((stepMs - reach) / pulseMs)));
            pulses <= Math.max(nearest, Math.floor((stepMs + reach) / pulseMs));
            pulses++
          ) {
            const off = pulses === 0 ? stepMs / PULSE.apartMs : (stepMs - pulses * pulseMs) / spread
            const to = (place + pulses) % cycle
            const total =
              before +
              bend / Math.max(1, pulses / PULSE.bendPulses) +
              Math.min((off * off) / 2, PULSE.most) +
              here[to]! +
              (pulses === 0 ? PULSE.together : quiet((place + 1) % cycle, pulses - 1))
            const state = length * cycle + to
            if (total >= next[state]!) continue
            next[state] = total
            origin[state] = from * cycle + place
            count[state] = pulses
          }
        }
      }
    }
    ;[cost, next] = [next, cost]
    origins.push(origin)
    counts.push(count)
  }
  let state = 0
  for (let one = 1; one < states; one++) if (cost[one]! < cost[state]!) state = one
  const total = cost[state]!
  const steps: number[] = []
  for (let index = moments.length - 2; index >= 0; index--) {
    steps.push(counts[index]![state]!)
    state = origins[index]![state]!
  }
  const places = [state % cycle]
  for (const step of steps.reverse()) places.push(places.at(-1)! + step)
  return { places, cost: total }
}
