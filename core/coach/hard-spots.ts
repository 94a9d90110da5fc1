import { greatest } from 'd3-array'
import { barAt, type Arrangement } from '../music/arrangement'
import { beatLength } from '../music/meter'
import type { ScoreSpan } from '../music/passage'
import {
  add,
  compare,
  earlier,
  equal,
  later,
  multiply,
  quarters,
  ratio,
  subtract,
  toDecimal,
  type Quarters,
} from '../music/quarters'

/**
 * When a place is a hard spot. Own choice; the interval is Wilson's (1927, Probable inference, J. Am. Stat. Assoc. 22;
 * unchecked).
 */
export const HARD_SPOT = {
  /** Only the newest passes show how it is now. */
  newest: 12,
  /** One slip is not a hard spot. */
  fewestFailures: 3,
  fewestPasses: 4,
  /** The failures must surely exceed this share of passes, and this multiple of what is usual in the part. */
  surelyAbove: 0.15,
  timesUsual: 1.8,
  /** Confidence: standard deviations of the interval's lower end (80 % one-sided). */
  deviations: 0.84,
} as const

/** The span of a pass and where it failed, in score time; a hesitation counts as a failure of the event after it. */
export interface PassTrace {
  stretch: ScoreSpan
  failed: readonly Quarters[]
}

/** Where hard spots are looked for: a part, and the onsets of the hands concerned, in order. */
export interface HardSpotContext {
  arrangement: Arrangement
  stretch: ScoreSpan
  onsets: readonly Quarters[]
}

export interface HardSpot {
  /** The failing onsets, from first to last. */
  first: Quarters
  last: Quarters
  /** The smallest sensible loop: a beat of lead-in, a beat of lead-out. */
  loop: ScoreSpan
  failures: number
  passes: number
}

/** The lower end of Wilson's interval for `failures` of `passes`. */
export function wilsonLowerBound(failures: number, passes: number, deviations: number = HARD_SPOT.deviations): number {
  if (passes === 0) return 0
  const share = failures / passes
  const z2 = deviations ** 2 / passes
  return (share + z2 / 2 - deviations * Math.sqrt((share * (1 - share)) / passes + z2 / (4 * passes))) / (1 + z2)
}

/**
 * Places where failures gather, hardest first. Failing onsets within a beat of each other are one place. `passes`
 * oldest first.
 */
export function findHardSpots(
  { arrangement, stretch: part, onsets }: HardSpotContext,
  passes: readonly PassTrace[],
): HardSpot[] {
  const all = countFailures(onsets, passes)
  const usual =
    all.reduce((sum, one) => sum + one.failures, 0) /
    Math.max(
      1,
      all.reduce((sum, one) => sum + one.passes, 0),
    )
  const hard = all.filter(
    ({ failures, passes: played }) =>
      failures >= HARD_SPOT.fewestFailures &&
      played >= HARD_SPOT.fewestPasses &&
      wilsonLowerBound(failures, played) > Math.max(HARD_SPOT.surelyAbove, HARD_SPOT.timesUsual * usual),
  )
  const spots: HardSpot[] = []
  for (const one of hard) {
    const before = spots.at(-1)
    const beat = beatLength(barAt(arrangement, one.onset).meter)
    if (before && compare(subtract(one.onset, before.last), beat) <= 0) {
      before.last = one.onset
      before.failures = Math.max(before.failures, one.failures)
      before.loop = loopAround(arrangement, part, before.first, before.last)
    } else spots.push(spotAt(arrangement, part, one))
  }
  return spots.sort((a, b) => wilsonLowerBound(b.failures, b.passes) - wilsonLowerBound(a.failures, a.passes))
}

/** The onset that fails most, however rarely; undefined where nothing fails. */
export function hardestEvent(
  { arrangement, stretch: part, onsets }: HardSpotContext,
  passes: readonly PassTrace[],
): HardSpot | undefined {
  const failing = countFailures(onsets, passes).filter(one => one.failures > 0)
  const most = greatest(
    failing,
    (a, b) => wilsonLowerBound(a.failures, a.passes) - wilsonLowerBound(b.failures, b.passes),
  )
  return most && spotAt(arrangement, part, most)
}

interface EventFailures {
  onset: Quarters
  failures: number
  passes: number
}

/** Failures of each onset in the newest passes, in score order. */
function countFailures(onsets: readonly Quarters[], passes: readonly PassTrace[]): EventFailures[] {
  const newest = passes.slice(-HARD_SPOT.newest)
  return onsets.flatMap(onset => {
    const over = newest.filter(({ stretch }) => compare(onset, stretch.from) >= 0 && compare(onset, stretch.to) < 0)
    return over.length === 0
      ? []
      : [
          {
            onset,
            failures: over.filter(pass => pass.failed.some(place => equal(place, onset))).length,
            passes: over.length,
          },
        ]
  })
}

const spotAt = (arrangement: Arrangement, part: ScoreSpan, { onset, failures, passes }: EventFailures): HardSpot => ({
  first: onset,
  last: onset,
  loop: loopAround(arrangement, part, onset, onset),
  failures,
  passes,
})

/** The smallest loop around a place: a beat before and a beat after. */
export const placeLoop = (arrangement: Arrangement, part: ScoreSpan, place: Quarters): ScoreSpan =>
  loopAround(arrangement, part, place, place)

/** From the beat before the first onset to the end of the beat after the last, within the part. */
function loopAround(arrangement: Arrangement, part: ScoreSpan, first: Quarters, last: Quarters): ScoreSpan {
  return {
    from: later(part.from, beatsFrom(arrangement, first, -1)),
    to: earlier(part.to, beatsFrom(arrangement, last, 2)),
  }
}

/** The beat line a number of beats from the beat that holds a position. */
function beatsFrom(arrangement: Arrangement, at: Quarters, by: number): Quarters {
  const bar = barAt(arrangement, at)
  const beat = beatLength(bar.meter)
  const whole = Math.floor(toDecimal(ratio(add(bar.offset, subtract(at, bar.start)), beat)) + 1e-9)
  return add(subtract(bar.start, bar.offset), multiply(beat, quarters(whole + by)))
}

/**
 * The next larger loop once a spot is clean: a beat more on either side, then its bars and one bar around them, then
 * the part. Undefined when it is the part already.
 */
export function growLoop(arrangement: Arrangement, part: ScoreSpan, loop: ScoreSpan): ScoreSpan | undefined {
  if (compare(loop.from, part.from) <= 0 && compare(loop.to, part.to) >= 0) return undefined
  const [first, last] = [barAt(arrangement, loop.from), barAt(arrangement, subtract(loop.to, SLIGHTLY))]
  const beat = beatLength(first.meter)
  const length = subtract(loop.to, loop.from)
  const clip = (from: Quarters, to: Quarters): ScoreSpan => ({ from: later(part.from, from), to: earlier(part.to, to) })
  if (compare(length, multiply(beat, quarters(5))) < 0)
    return clip(beatsFrom(arrangement, loop.from, -1), add(loop.to, beat))
  const barsAround = clip(
    arrangement.bars[Math.max(0, first.index - 1)]!.start,
    add(last.start, add(last.length, arrangement.bars[last.index + 1]?.length ?? last.length)),
  )
  const isLarger = !equal(barsAround.from, loop.from) || !equal(barsAround.to, loop.to)
  return compare(subtract(barsAround.to, barsAround.from), multiply(subtract(part.to, part.from), quarters(3, 4))) <
    0 && isLarger
    ? barsAround
    : part
}

const SLIGHTLY = quarters(1, 1024)
