import type { Meter } from '../music/meter'

/**
 * How the pulse of free playing is found: Viterbi decoding of a metrical hidden Markov model, over the length of a pulse and the place in the bar at once (in the manner
 * of Nakamura, Yoshii and Sagayama 2017; from memory), for each of several kinds of bars. How likely something is struck at a place, and how much it stands out, goes
 * by the place's rank in the bar and is learned from the piece. The values are own choice.
 */
export const PULSE = {
  /** Lengths of a pulse, ms, and the ratio from one to the next. */
  shortestMs: 70, longestMs: 700, step: 1.04,
  /** How far a step lies from whole pulses: ms, and a share of the step; and the most that can say against it. */
  unsteadyMs: 14, unsteadyStep: 0.05, most: 14,
  /** One moment struck as two. */
  together: 6,
  /** A pulse of another length, for each step squared; at most so many steps at once. */
  bend: 0.8, mostBend: 2,
  /** What the usual length of a quarter note is, ms, and how much an octave off says against it. */
  usualQuarterMs: 620, unusual: 40,
  /** How often something is struck on a place of each rank, at first; and how much it stands out. */
  struck: [0.95, 0.8, 0.45, 0.15], standing: [0.8, 0.55, 0.3, 0.15],
  /** What is known before counts as so many places of each rank. */
  known: 12,
  /** Ways this much dearer than the best are given up. */
  beam: 45,
  /** Rounds of learning, and from how many moments at most the kind of bar is told. */
  rounds: 2, mostMoments: 400,
} as const

/** A kind of bar: the rank of each of its pulses, the strongest 0, and how it is written. */
interface BarKind {
  ranks: readonly number[]
  /** Pulses to a quarter note, and the meter that is written so; where pulses may be read as longer or shorter notes, each way. */
  written: readonly { pulses: number, meter: Meter }[]
  /** What says against it before anything is heard. */
  rare: number
}

const inQuarters = (beats: number): Meter => ({ beats, beatType: 4 })
const KINDS: readonly BarKind[] = [
  { ranks: [0, 2, 1, 2], written: [{ pulses: 2, meter: inQuarters(2) }], rare: 12 },
  { ranks: [0, 3, 2, 3, 1, 3, 2, 3], written: [{ pulses: 2, meter: inQuarters(4) }, { pulses: 4, meter: inQuarters(2) }], rare: 0 },
  { ranks: [0, 3, 2, 3, 1, 3, 2, 3, 1, 3, 2, 3, 1, 3, 2, 3], written: [{ pulses: 4, meter: inQuarters(4) }], rare: 4 },
  { ranks: [0, 2, 1, 2, 1, 2], written: [{ pulses: 2, meter: inQuarters(3) }], rare: 2 },
  { ranks: [0, 3, 2, 3, 1, 3, 2, 3, 1, 3, 2, 3], written: [{ pulses: 4, meter: inQuarters(3) }], rare: 4 },
  { ranks: [0, 2, 2, 1, 2, 2], written: [{ pulses: 2, meter: { beats: 6, beatType: 8 } }], rare: 4 },
  { ranks: [0, 3, 2, 3, 2, 3, 1, 3, 2, 3, 2, 3], written: [{ pulses: 4, meter: { beats: 6, beatType: 8 } }], rare: 8 },
  { ranks: [0, 2, 2, 1, 2, 2, 1, 2, 2, 1, 2, 2], written: [{ pulses: 3, meter: inQuarters(4) }], rare: 6 },
  { ranks: [0, 2, 2, 1, 2, 2, 1, 2, 2], written: [{ pulses: 3, meter: inQuarters(3) }], rare: 8 },
  { ranks: [0, 2, 1, 2, 1, 2, 1, 2, 1, 2], written: [{ pulses: 2, meter: inQuarters(5) }], rare: 8 },
  { ranks: [0, 3, 2, 3, 1, 3, 2, 3, 1, 3, 2, 3, 1, 3, 2, 3, 1, 3, 2, 3], written: [{ pulses: 4, meter: inQuarters(5) }], rare: 10 },
]

/** A moment at which something was struck, and from 0 to 1 how much it stands out. */
export interface PulseMoment { atMs: number, accent: number }

/** What was heard: the place of each moment in pulses from a bar line, whole numbers that never go back; pulses to a quarter note; and the meter. */
export interface Pulse { places: number[], pulses: number, meter: Meter }

/** What is known of places by their rank: how often they are struck, and how much what is struck there stands out. */
interface Knowledge { struck: number[], standing: number[] }

/** The pulse of some moments, sorted by time. `meters`: those that come into question, all when left out. Linear in the number of moments. */
export function findPulse(moments: readonly PulseMoment[], meters?: readonly Meter[]): Pulse {
  const isAsked = ({ meter }: { meter: Meter }) => meters === undefined || meters.some(one => one.beats === meter.beats && one.beatType === meter.beatType)
  const some = moments.slice(0, PULSE.mostMoments)
  let best: { cost: number, kind: BarKind, written: BarKind['written'][number], known: Knowledge } | undefined
  for (const kind of KINDS) {
    const written = kind.written.filter(isAsked)
    if (written.length === 0) continue
    let known: Knowledge = { struck: [...PULSE.struck], standing: [...PULSE.standing] }
    let way = decode(some, kind.ranks, known)
    for (let round = 0; round < PULSE.rounds; round++) {
      known = learned(some, kind.ranks, way.places)
      way = decode(some, kind.ranks, known)
    }
    const pulseMs = usualPulse(some, way.places)
    for (const one of written) {
      const cost = way.cost + kind.rare + PULSE.unusual * Math.log2(pulseMs * one.pulses / PULSE.usualQuarterMs) ** 2
      if (process.env.PULSE_DEBUG) console.log(kind.ranks.length, kind.ranks.join(''), `${one.meter.beats}/${one.meter.beatType}`, cost.toFixed(1), way.cost.toFixed(1), pulseMs.toFixed(0), known.struck.map(x => x.toFixed(2)).join(), known.standing.map(x => x.toFixed(2)).join())
      if (!best || cost < best.cost) best = { cost, kind, written: one, known }
    }
  }
  const { kind, written, known } = best!
  return { places: decode(moments, kind.ranks, known).places, ...written }
}

/** The usual length of a pulse, ms. */
export function usualPulse(moments: readonly PulseMoment[], places: readonly number[]): number {
  const span = places.at(-1)! - places[0]!
  return span > 0 ? (moments.at(-1)!.atMs - moments[0]!.atMs) / span : PULSE.usualQuarterMs / 4
}

/** What the places of a piece say of each rank. */
function learned(moments: readonly PulseMoment[], ranks: readonly number[], places: readonly number[]): Knowledge {
  const count = PULSE.struck.length
  const struck = PULSE.struck.map(share => share * PULSE.known)
  const all = PULSE.struck.map(() => PULSE.known as number)
  const standing = PULSE.standing.map(share => share * PULSE.known)
  const heard = PULSE.standing.map(() => PULSE.known as number)
  const rankAt = (place: number) => ranks[place % ranks.length]!
  places.forEach((place, index) => {
    const rank = rankAt(place)
    if (place !== places[index - 1]) struck[rank]!++
    standing[rank]! += moments[index]!.accent
    heard[rank]!++
  })
  for (let place = places[0] ?? 0; place <= (places.at(-1) ?? 0); place++) all[rankAt(place)]!++
  const share = (part: number[], whole: number[]) => Array.from({ length: count }, (_, rank) => Math.min(0.98, Math.max(0.02, part[rank]! / whole[rank]!)))
  return { struck: share(struck, all), standing: share(standing, heard) }
}

/** The cheapest way through the moments for one kind of bar. */
function decode(moments: readonly PulseMoment[], ranks: readonly number[], { struck, standing }: Knowledge): { places: number[], cost: number } {
  if (moments.length === 0) return { places: [], cost: 0 }
  const cycle = ranks.length
  const lengths = Array.from({ length: Math.ceil(Math.log(PULSE.longestMs / PULSE.shortestMs) / Math.log(PULSE.step)) }, (_, index) => PULSE.shortestMs * PULSE.step ** index)
  const states = lengths.length * cycle
  const silent = ranks.map(rank => -Math.log(1 - struck[rank]!))
  const strike = ranks.map(rank => -Math.log(struck[rank]!))
  const whole = silent.reduce((sum, one) => sum + one, 0)
  /** What it costs that nothing is struck on the places from one (included) for so many. */
  const sums = new Float64Array(2 * cycle + 1)
  for (let place = 0; place < 2 * cycle; place++) sums[place + 1] = sums[place]! + silent[place % cycle]!
  const quiet = (from: number, count: number) => Math.floor(count / cycle) * whole + sums[from + count % cycle]! - sums[from]!
  const placeCost = ({ accent }: PulseMoment) => ranks.map((rank, place) => strike[place]! - accent * Math.log(standing[rank]!) - (1 - accent) * Math.log(1 - standing[rank]!))
  const first = placeCost(moments[0]!)
  let cost = Float64Array.from({ length: states }, (_, state) => first[state % cycle]!)
  const origins: Int32Array[] = []
  const counts: Int32Array[] = []
  for (let index = 1; index < moments.length; index++) {
    const stepMs = moments[index]!.atMs - moments[index - 1]!.atMs
    const next = new Float64Array(states).fill(Infinity)
    const origin = new Int32Array(states)
    const count = new Int32Array(states)
    const here = placeCost(moments[index]!)
    let least = Infinity
    for (const one of cost) if (one < least) least = one
    const dearest = least + PULSE.beam
    const spread = Math.hypot(PULSE.unsteadyMs, PULSE.unsteadyStep * stepMs)
    for (let length = 0; length < lengths.length; length++) {
      const pulseMs = lengths[length]!
      const fewest = Math.max(0, Math.ceil((stepMs - 3.5 * spread) / pulseMs))
      const most = Math.max(Math.round(stepMs / pulseMs), Math.floor((stepMs + 3.5 * spread) / pulseMs))
      for (let from = Math.max(0, length - PULSE.mostBend); from <= Math.min(lengths.length - 1, length + PULSE.mostBend); from++) {
        const bend = PULSE.bend * (from - length) ** 2
        for (let place = 0; place < cycle; place++) {
          const before = cost[from * cycle + place]! + bend
          if (before > dearest) continue
          for (let pulses = Math.min(fewest, Math.round(stepMs / pulseMs)); pulses <= most; pulses++) {
            const off = (stepMs - pulses * pulseMs) / spread
            const to = (place + pulses) % cycle
            const sum = before + Math.min(off * off / 2, PULSE.most) + here[to]! + (pulses === 0 ? PULSE.together : quiet((place + 1) % cycle, pulses - 1))
            const state = length * cycle + to
            if (sum >= next[state]!) continue
            next[state] = sum
            origin[state] = from * cycle + place
            count[state] = pulses
          }
        }
      }
    }
    cost = next
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
