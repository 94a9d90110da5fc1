/**
 * How the pulse of free playing is found: Viterbi decoding of a metrical hidden Markov model, over the length of a pulse and the place in the beat at once
 * (in the manner of Nakamura, Yoshii and Sagayama 2017; from memory). The values are own choice.
 */
export const PULSE = {
  /** Lengths of a pulse (a sixteenth), ms, and the ratio from one to the next. */
  shortestMs: 70, longestMs: 420, step: 1.04, usualMs: 140, unusual: 1,
  /** How far a step lies from whole pulses: ms, a share of the pulse, a share of the step; and the most that can say against it. */
  unsteadyMs: 10, unsteadyPulse: 0.14, unsteadyStep: 0.04, most: 18,
  /** What each pulse costs at which nothing is struck, and one moment struck as two. */
  silent: 4, mostSilent: 8, together: 6,
  /** A pulse of another length, for each step squared. */
  bend: 1,
  /** What weak places cost: for moments that stand out (bass, chords, long notes), and for others. */
  accented: 3, plain: 0.4,
  /** The sixteenths of two beats, the strongest first. */
  weakness: [0, 3, 2, 3, 1, 3, 2, 3],
} as const

/** Pulses to a quarter note. */
export const PULSES = 4

/** A moment at which something was struck, and from 0 to 1 how much it stands out. */
export interface PulseMoment { atMs: number, accent: number }

/**
 * The place of each moment in pulses, the first within the two beats that begin with 0: whole numbers that never go back. `moments` sorted by time. Linear in
 * their number.
 */
export function findPulse(moments: readonly PulseMoment[]): number[] {
  if (moments.length === 0) return []
  const { weakness } = PULSE
  const beats = weakness.length
  const lengths = Array.from({ length: Math.ceil(Math.log(PULSE.longestMs / PULSE.shortestMs) / Math.log(PULSE.step)) }, (_, index) => PULSE.shortestMs * PULSE.step ** index)
  const states = lengths.length * beats
  const placeCost = ({ accent }: PulseMoment, place: number) => weakness[place]! * (accent * PULSE.accented + (1 - accent) * PULSE.plain)
  let cost = Float64Array.from({ length: states }, (_, state) => {
    const place = state % beats
    return PULSE.unusual * Math.abs(Math.log2(lengths[(state - place) / beats]! / PULSE.usualMs)) + (place === 0 ? 0 : 1.5) + placeCost(moments[0]!, place)
  })
  const origins: Int32Array[] = []
  const counts: Int32Array[] = []
  for (let index = 1; index < moments.length; index++) {
    const stepMs = moments[index]!.atMs - moments[index - 1]!.atMs
    const next = new Float64Array(states).fill(Infinity)
    const origin = new Int32Array(states)
    const count = new Int32Array(states)
    const here = weakness.map((_, place) => placeCost(moments[index]!, place))
    lengths.forEach((pulseMs, length) => {
      const whole = stepMs / pulseMs
      for (let pulses = Math.max(0, Math.floor(whole) - 1); pulses <= Math.ceil(whole) + 1; pulses++) {
        const spread = Math.hypot(PULSE.unsteadyMs, PULSE.unsteadyPulse * pulseMs, PULSE.unsteadyStep * pulses * pulseMs)
        const off = (stepMs - pulses * pulseMs) / spread
        const time = Math.min(off * off / 2 + Math.log(spread / PULSE.unsteadyMs), PULSE.most) + (pulses === 0 ? PULSE.together : PULSE.silent * Math.min(pulses - 1, PULSE.mostSilent))
        for (let from = Math.max(0, length - 2); from <= Math.min(lengths.length - 1, length + 2); from++) {
          const price = time + PULSE.bend * (from - length) ** 2
          for (let place = 0; place < beats; place++) {
            const to = (place + pulses) % beats
            const sum = cost[from * beats + place]! + price + here[to]!
            if (sum >= next[length * beats + to]!) continue
            next[length * beats + to] = sum
            origin[length * beats + to] = from * beats + place
            count[length * beats + to] = pulses
          }
        }
      }
    })
    cost = next
    origins.push(origin)
    counts.push(count)
  }
  let state = cost.indexOf(cost.reduce((least, one) => Math.min(least, one), Infinity))
  const steps: number[] = []
  for (let index = moments.length - 2; index >= 0; index--) {
    steps.push(counts[index]![state]!)
    state = origins[index]![state]!
  }
  const places = [state % beats]
  for (const step of steps.reverse()) places.push(places.at(-1)! + step)
  return places
}
