import { isCompound, type Meter } from '../../music/meter'
import { commonDivision, NotExact, type Quarters } from '../../music/quarters'

/**
 * A written value: `type` as MusicXML names it, dots, and the tuplet it stands in. Times in whole units, see
 * `unitsFor`.
 */
export interface DrawnValue {
  start: number
  length: number
  type: string
  dots: number
  tuplet?: Tuplet
}
/** `actual` notes in the time of `normal`, from `start` to `end`. */
export interface Tuplet {
  start: number
  end: number
  actual: number
  normal: number
}
export interface Item {
  start: number
  end: number
}

const TYPES = [
  'long',
  'breve',
  'whole',
  'half',
  'quarter',
  'eighth',
  '16th',
  '32nd',
  '64th',
  '128th',
  '256th',
  '512th',
  '1024th',
]
const QUARTER_TYPE = TYPES.indexOf('quarter')
/** Beyond this many units to a quarter note the sums would no longer be exact. */
const MAX_UNITS = 1e9

/**
 * So many units make a quarter note that every moment given is a whole number of them, and every value drawn from them
 * too.
 */
export function unitsFor(moments: readonly Quarters[]): number {
  const units = commonDivision([{ n: 1, d: 4 }, ...moments], MAX_UNITS)
  if (units === undefined) throw new NotExact('these positions are too fine to be written as notes')
  return units * 8
}

export const inUnits = (at: Quarters, units: number): number => Math.round(at.n * (units / at.d))

/**
 * Draws a bar's events, which follow each other without a gap, as note values: tuplets where a moment does not lie on
 * halves of halves, ties where one value does not do. `offset` is where the bar begins in a whole one of its meter.
 * Each event gives one or more values, in order.
 */
export function drawValues(items: readonly Item[], offset: number, meter: Meter, units: number): DrawnValue[][] {
  const tuplets = findTuplets(items, offset, units)
  return items.map(({ start, end }) => {
    const values: DrawnValue[] = []
    let at = start
    while (at < end) {
      const tuplet = tuplets.find(one => one.start <= at && at < one.end)
      const next = tuplets.find(one => one.start > at)
      const until = Math.min(end, tuplet ? tuplet.end : (next?.start ?? end))
      if (tuplet) {
        const scale = tuplet.actual / tuplet.normal
        for (const value of plainValues(
          (at - tuplet.start) * scale,
          (until - tuplet.start) * scale,
          units,
          undefined,
        )) {
          values.push({ ...value, start: tuplet.start + value.start / scale, length: value.length / scale, tuplet })
        }
      } else
        values.push(
          ...plainValues(at + offset, until + offset, units, meter).map(value => ({
            ...value,
            start: value.start - offset,
          })),
        )
      at = until
    }
    return values
  })
}

function plainValues(start: number, end: number, units: number, meter: Meter | undefined): DrawnValue[] {
  const values: DrawnValue[] = []
  const compoundBeat = meter && isCompound(meter) ? (units * 12) / meter.beatType : 0
  let at = start
  while (at < end) {
    let most = end - at
    if (compoundBeat > 0) {
      const intoBeat = at % compoundBeat
      const toBeat = compoundBeat - intoBeat
      if (most > toBeat) most = intoBeat === 0 ? most - (most % compoundBeat) || most : toBeat
    }
    // A value may be twice as long as the place it stands on (a quarter on an "and", a half on beat 2); a longer one
    // goes to the next stronger place first.
    else if (at > 0 && most > 2 * placeValue(at, units)) most = placeValue(at, units)
    const value = largestValue(most, units)
    values.push({ start: at, ...value })
    at += value.length
  }
  return values
}

/** The longest power-of-two part of a quarter note (or more) on whose grid this moment lies. */
function placeValue(at: number, units: number): number {
  let value = units * 16
  while (at % value !== 0 && value % 2 === 0) value /= 2
  return value
}

function largestValue(most: number, units: number): Omit<DrawnValue, 'start'> {
  for (const [step, type] of TYPES.entries()) {
    const plain = units * 2 ** (QUARTER_TYPE - step)
    if (plain * 1.5 <= most && Number.isInteger(plain / 2)) return { length: plain * 1.5, type, dots: 1 }
    if (plain <= most) return { length: plain, type, dots: 0 }
  }
  throw new NotExact('a length is too short to be written as a note')
}

function findTuplets(items: readonly Item[], offset: number, units: number): Tuplet[] {
  const barEnd = items.at(-1)?.end ?? 0
  const isPlain = (at: number) => isPowerOfTwo(units / gcd(at + offset, units))
  const odd = [...new Set(items.flatMap(({ start, end }) => [start, end]))]
    .filter(at => at > 0 && at < barEnd && !isPlain(at))
    .sort((a, b) => a - b)
  const tuplets: Tuplet[] = []
  for (const at of odd) {
    if (tuplets.some(one => at < one.end)) continue
    // On the beats first, then between them.
    const windows = (
      [
        [1 / 2, 0],
        [1, 0],
        [1, 1 / 2],
        [2, 0],
        [2, 1],
        [4, 0],
        [4, 2],
      ] as const
    ).map(([size, shift]) => {
      const start = Math.floor((at + offset - shift * units) / (size * units)) * size * units + shift * units - offset
      return { start, end: start + size * units }
    })
    const isFree = ({ start, end }: Item) => start >= 0 && end <= barEnd && !tuplets.some(one => one.end > start)
    const crosses = (item: Item, { start, end }: Item) =>
      item.start < end && item.end > start && (item.start < start || item.end > end)
    // No note with an odd edge reaches over the tuplet's ends; or, on a beat, one may be tied over them that is odd at
    // one edge only.
    const isClosed = (window: Item) =>
      isFree(window) && !items.some(item => crosses(item, window) && !(isPlain(item.start) && isPlain(item.end)))
    const isTied = (window: Item) =>
      isFree(window) && !items.some(item => crosses(item, window) && !isPlain(item.start) && !isPlain(item.end))
    const beats = windows.filter(({ start, end }) => end - start <= units)
    const window =
      beats.find(isClosed) ??
      windows.slice(1, 2).find(isTied) ??
      windows.find(isClosed) ??
      windows.find(isTied) ??
      windows[1]!
    const start = Math.max(window.start, tuplets.at(-1)?.end ?? 0, 0)
    const end = Math.min(window.end, barEnd)
    const actual = odd
      .filter(one => one > start && one < end)
      .reduce((all, one) => lcm(all, oddPart((end - start) / gcd(one - start, end - start))), 1)
    tuplets.push({ start, end, actual, normal: 2 ** Math.floor(Math.log2(actual)) })
  }
  return tuplets
}

const isPowerOfTwo = (value: number): boolean => Number.isInteger(value) && Number.isInteger(Math.log2(value))
function oddPart(value: number): number {
  while (value % 2 === 0) value /= 2
  return value
}
function gcd(a: number, b: number): number {
  while (b !== 0) [a, b] = [b, a % b]
  return Math.abs(a)
}
const lcm = (a: number, b: number): number => (a / gcd(a, b)) * b

/** The groups in which short notes are joined by beams: a felt beat, or for a short bar of eighths the whole bar. */
export function beamGroup(meter: Meter, at: number, units: number): number {
  const beat = (units * 4) / meter.beatType
  if (meter.groups) {
    let group = 0
    for (let end = 0; group < meter.groups.length; group++) {
      end += meter.groups[group]! * beat
      if (at < end) break
    }
    return group
  }
  if (isCompound(meter)) return Math.floor(at / (3 * beat))
  return meter.beatType >= 8
    ? meter.beats === 3
      ? 0
      : Math.floor(at / (3 * beat))
    : Math.floor(at / Math.max(beat, units))
}

/** How many beams or flags a value has. */
export const flagsOf = (type: string): number => Math.max(0, TYPES.indexOf(type) - QUARTER_TYPE)
