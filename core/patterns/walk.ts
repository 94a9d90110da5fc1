import type { MidiPitch } from '../music/pitch'
import { chromasOf, type Sounding } from './chord-tones'

export interface WalkRequest {
  /** The bass note it leaves, and the one it arrives at. */
  from: MidiPitch
  to: MidiPitch
  /** The signature: positive sharps. */
  fifths: number
  /** The chord under each step. */
  chords: readonly Sounding[]
  lowest: MidiPitch
  highest: MidiPitch
}

/**
 * What a walking bass would rather not do, by how much: own choice around common practice (steps before skips, chord
 * tones where the beat is strong, no note twice, arriving from a step away).
 */
const COST = {
  step: 0,
  third: 0.7,
  fourth: 1.2,
  farther: 4,
  repeated: 3,
  /** Arriving from a step away, from a fourth or fifth, from anywhere else. */
  arriving: 0,
  fromFifth: 0.8,
  fromAfar: 2.5,
  /** Notes that are not of the chord, on each second step and on the others; outside the scale altogether. */
  passingOnStrong: 0.8,
  passing: 0.2,
  outside: 1.4,
  /** Turning round, and coming back at once to the note that was left. */
  turning: 0.3,
  back: 1.1,
} as const

const MAJOR = [0, 2, 4, 5, 7, 9, 11]

/**
 * Steps from one bass note to the next, a key for each chord that is given: in the scale of the signature, with the
 * least of what a walking bass would rather not do (dynamic programming).
 */
export function walkTo({ from, to, fifths, chords, lowest, highest }: WalkRequest): MidiPitch[] {
  const tonic = (((fifths * 7) % 12) + 12) % 12
  const scale = new Set(MAJOR.map(step => (tonic + step) % 12))
  interface Way {
    key: MidiPitch
    way: number
    cost: number
    before?: Way
  }
  let ways: Way[] = [{ key: from, way: 0, cost: 0 }]
  chords.forEach((chord, index) => {
    const ofChord = chromasOf(chord)
    const next: Way[] = []
    for (let key = lowest; key <= highest; key++) {
      if (Math.abs(key - from) > 12) continue
      const isStrong = index % 2 === 1
      const own = ofChord.has(key % 12)
        ? 0
        : scale.has(key % 12)
          ? isStrong
            ? COST.passingOnStrong
            : COST.passing
          : COST.outside
      const last = index === chords.length - 1 ? arriving(to - key) : 0
      let best: Way | undefined
      for (const before of ways) {
        const move = key - before.key
        const turns = before.way !== 0 && Math.sign(move) !== before.way ? COST.turning : 0
        const back = before.before?.key === key ? COST.back : 0
        const cost = before.cost + moving(Math.abs(move)) + turns + back + own + last
        if (!best || cost < best.cost) best = { key, way: Math.sign(move), cost, before }
      }
      if (best) next.push(best)
    }
    ways = next.length > 0 ? next : ways
  })
  const found: MidiPitch[] = []
  for (
    let way: Way | undefined = ways.reduce((least, one) => (one.cost < least.cost ? one : least));
    way?.before;
    way = way.before
  )
    found.unshift(way.key)
  return chords.map((_, index) => found[index] ?? from)
}

const moving = (halfSteps: number): number =>
  halfSteps === 0
    ? COST.repeated
    : halfSteps <= 2
      ? COST.step
      : halfSteps <= 4
        ? COST.third
        : halfSteps <= 5
          ? COST.fourth
          : COST.farther

function arriving(halfSteps: number): number {
  const size = Math.abs(halfSteps)
  return size === 1 || size === 2 ? COST.arriving : size === 5 || size === 7 ? COST.fromFifth : COST.fromAfar
}
