import { isCompound, type Meter } from './meter'
import { add, quarters, ratio, subtract, toDecimal, type Quarters } from './quarters'

/** How beats are divided for counting: `2` "1 &", `4` "1 e & a", `3` "1 trip let"; `1` only the beats. */
export type Subdivision = 1 | 2 | 3 | 4

const SYLLABLES: Record<Subdivision, readonly string[]> = { 1: [], 2: ['&'], 3: ['trip', 'let'], 4: ['e', '&', 'a'] }
const BEAT_PARTS: Record<string, string> = { '1/2': '&', '1/4': 'e', '3/4': 'a', '1/3': 'trip', '2/3': 'let' }
const PULSE_PARTS: Record<string, string> = { '1/3': '&', '2/3': 'a' }
/**
 * Compound meters of up to six beats are counted in their beats, longer ones in pulses of three: "1 & a 2 & a" (common
 * practice).
 */
const MAX_BEATS_COUNTED = 6

/**
 * The syllable counted at `inBar` after the bar line of a whole bar: "1", "&", "e", "trip" … Empty for anything finer
 * than sixteenths and triplets.
 */
export function countAt(meter: Meter, inBar: Quarters): string {
  const inPulses = isCompound(meter) && meter.beats > MAX_BEATS_COUNTED
  const beat = quarters(inPulses ? 12 : 4, meter.beatType)
  const place = ratio(inBar, beat)
  const whole = Math.floor(toDecimal(place))
  const within = subtract(place, quarters(whole))
  if (within.n === 0) return String(whole + 1)
  return (inPulses ? PULSE_PARTS : BEAT_PARTS)[`${within.n}/${within.d}`] ?? ''
}

/** The whole count of a bar at a subdivision, as spoken before playing: "1 e & a 2 e & a". */
export function countBar(meter: Meter, subdivision: Subdivision): string[] {
  if (isCompound(meter))
    return meter.beats <= MAX_BEATS_COUNTED
      ? beats(meter.beats)
      : beats(meter.beats / 3).flatMap(beat => [beat, '&', 'a'])
  return beats(meter.beats).flatMap(beat => [beat, ...SYLLABLES[subdivision]])
}

const beats = (count: number): string[] => Array.from({ length: count }, (_, index) => String(index + 1))

/**
 * The coarsest subdivision in which every onset has a syllable of its own. Triplets beside sixteenths count as
 * sixteenths: the syllable says which.
 */
export function subdivisionOf(meter: Meter, places: readonly Quarters[]): Subdivision {
  const beat = quarters(4, meter.beatType)
  const fractions = places
    .map(place => ratio(place, beat))
    .map(place => subtract(place, quarters(Math.floor(toDecimal(place)))))
  const fits = (division: Subdivision) => fractions.every(one => (one.n * division) % one.d === 0)
  return ([1, 2, 3, 4] as const).find(fits) ?? 4
}

/** The place of a score time in a whole bar: after the beats that a pickup leaves out. */
export const placeInBar = (bar: { start: Quarters; offset: Quarters }, at: Quarters): Quarters =>
  add(bar.offset, subtract(at, bar.start))
