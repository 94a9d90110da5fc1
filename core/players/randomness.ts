import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'

/** A seeded random source: the same seed gives the same sequence everywhere. */
export interface Chance {
  /** A uniform number in [0, 1). */
  uniform: () => number
  /** A normally distributed number with mean 0 and standard deviation 1 (Box and Muller 1958). */
  normal: () => number
  happens: (probability: number) => boolean
  pick: <T>(choices: readonly T[]) => T
}

export function seededChance(seed: number): Chance {
  const generator = xoroshiro128plus(seed)
  const uniform = () => uniformFloat64(generator)
  return {
    uniform,
    normal: () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform()),
    happens: probability => uniform() < probability,
    pick: choices => choices[Math.floor(uniform() * choices.length)]!,
  }
}
