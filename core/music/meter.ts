import { quarters, type Quarters } from './quarters'

/** A time signature: `beats` of 1/`beatType`; `groups` where the signature itself is additive, as 3+2. */
export interface Meter {
  readonly beats: number
  readonly beatType: number
  readonly groups?: readonly number[]
}

/** One beat of the signature's denominator. */
export const beatLength = (meter: Meter): Quarters => quarters(4, meter.beatType)

/** A whole bar of this meter. */
export const barLength = (meter: Meter): Quarters => quarters(4 * meter.beats, meter.beatType)

/** 6/8, 9/8, 12/8 and their like: felt in pulses of three denominator beats. */
export const isCompound = (meter: Meter): boolean => meter.beats > 3 && meter.beats % 3 === 0 && meter.beatType >= 8

/**
 * A beat as it is felt, in quarter notes: the dotted quarter of 6/8, the first group of an additive meter, otherwise
 * the denominator's.
 */
export function feltBeatQuarters(meter: Meter): number {
  const [first = 0, second = meter.beats] = pulses(meter)
  return ((second - first) * 4) / meter.beatType
}

/** The beat that a tempo counts, in quarter notes: dotted in compound meters, otherwise a quarter note. */
export const tempoBeatQuarters = (meter: Meter): number => (isCompound(meter) ? feltBeatQuarters(meter) : 1)

/**
 * Beats a minute: slower beats cannot be carried (the lowest mark of metronomes; common practice). Below it the beat is
 * counted in halves, in compound meters in thirds.
 */
export const SLOWEST_BEAT = 40

/** Whether a tempo, quarter notes a minute, is so slow that the beat is counted finer. */
export const isCountedFiner = (quarterBpm: number, meter: Meter): boolean =>
  quarterBpm < SLOWEST_BEAT * tempoBeatQuarters(meter) - 0.5

/** Beats a minute as they are felt, from quarter notes a minute. */
export const beatBpm = (meter: Meter, quarterBpm: number): number => quarterBpm / feltBeatQuarters(meter)

/**
 * Where the felt pulses of a bar fall, in denominator beats from the bar line, first pulse first:
 * 4/4 gives 0 1 2 3, 6/8 gives 0 3, an additive 3+2/8 gives 0 3 (common practice).
 */
export function pulses(meter: Meter): number[] {
  if (meter.groups) {
    const { groups } = meter
    return groups.map((_, index) => groups.slice(0, index).reduce((sum, group) => sum + group, 0))
  }
  const step = isCompound(meter) ? 3 : 1
  return Array.from({ length: meter.beats / step }, (_, pulse) => pulse * step)
}
