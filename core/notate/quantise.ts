import { bisectRight } from 'd3-array'
import Fraction from 'fraction.js'
import { commonDivision, quarters, type Quarters } from '../music/quarters'

/** A note as it was played: quarter notes from the beginning, as decimals. */
export interface PlayedNote {
  onset: number
  end: number
}
export interface WrittenTime {
  onset: Quarters
  end: Quarters
}

/** How played times become written ones. Own choice unless a source is named. */
export const NOTATION = {
  /** Divisions of a quarter note and what each costs: the plainer one unless the notes say otherwise. */
  grids: [
    [1, 0],
    [2, 0.4],
    [4, 1.2],
    [3, 1.6],
    [6, 4],
    [8, 5],
  ] as readonly (readonly [division: number, cost: number])[],
  plainGrids: [
    [1, 0],
    [2, 0.4],
    [4, 1.2],
  ] as readonly (readonly [division: number, cost: number])[],
  /** How far, in quarter notes, a played note usually lies from its place. */
  unsteadyQuarters: 0.055,
  /** Denominators that exact files use: up to sixty-fourths, with triplets, quintuplets, septuplets. */
  mostExactDenominator: 64,
  plainDenominator: 16,
  /** The share of onsets on plain places for a file to be taken as exact. */
  exactShare: 0.9,
  /**
   * A gap before the next note, as a share of the step to it, that is a matter of touch and not a rest; and an overlap
   * that is legato.
   */
  touchGap: 0.45,
  touchOverlap: 0.3,
  /** Offbeats from here to here, as a share of the beat, may be swung ones. */
  swungFrom: 0.57,
  swungTo: 0.77,
  /** The share of beats whose offbeats must be swung, and their fewest number. */
  swungShare: 0.75,
  fewestSwung: 6,
} as const

/**
 * Finds the simplest fraction within `tolerance` of a moment. The same few places come again and again, so they are
 * remembered.
 */
function simplestWithin(tolerance: number): (at: number) => Quarters {
  const known = new Map<number, Quarters>()
  return at => {
    const whole = Math.floor(at)
    const share = Math.round((at - whole) * 1e6) / 1e6
    let found = known.get(share)
    if (!found) {
      const { n, d } = new Fraction(Math.round(share * 1e6), 1e6).simplify(tolerance)
      known.set(share, (found = quarters(Number(n), Number(d))))
    }
    return quarters(whole * found.d + found.n, found.d)
  }
}

/**
 * Whether times lie exactly on note values, as notation programs and sequencers write them: each within `tolerance`
 * quarter notes of a plain fraction.
 */
export function isExact(onsets: readonly number[], tolerance: number): boolean {
  const simplest = simplestWithin(tolerance)
  const plain = onsets.filter(at => simplest(at).d <= NOTATION.plainDenominator)
  return tolerance <= 1 / 150 && plain.length >= NOTATION.exactShare * onsets.length
}

/** Exact times as fractions. An end that is no plain place (a sequencer's shortened note) is taken as touch. */
export function readExact(notes: readonly PlayedNote[], tolerance: number): WrittenTime[] {
  const simplest = simplestWithin(tolerance)
  const onsets = notes.map(note => simplest(note.onset))
  const ends = notes.map(note => simplest(note.end))
  // In a fine file a fine fraction is meant; in a coarse one any tick is near some fine fraction.
  const meaningful = Math.min(
    NOTATION.mostExactDenominator,
    Math.max(NOTATION.plainDenominator, Math.sqrt(1 / (2 * tolerance))),
  )
  const places = [...new Set(onsets.map(at => at.n / at.d))].sort((a, b) => a - b)
  // Nor is a division meant in which nothing begins, where many notes end on it: a sequencer's notes are nine tenths as
  // long as they are written.
  const tuplets = new Set([1, 3, ...onsets.map(at => oddPart(at.d))])
  const strange = ends.filter(end => !tuplets.has(oddPart(end.d))).length
  const isShortened = strange >= MANY_STRANGE.notes && strange >= MANY_STRANGE.share * notes.length
  const isMeant = (division: number) => division <= meaningful && (!isShortened || tuplets.has(oddPart(division)))
  return notes.map((note, index) => {
    const end = ends[index]!
    if ((isMeant(end.d) && isMusical(end.d)) || onsets[index]!.d > NOTATION.plainDenominator)
      return { onset: onsets[index]!, end }
    return { onset: onsets[index]!, end: simplest(endByTouch(note, places, 4)) }
  })
}

/**
 * Whether there is one division of the quarter note, of a size that can be written with, on which all these times lie.
 */
export const haveOneGrid = (times: readonly WrittenTime[]): boolean =>
  commonDivision(
    times.flatMap(({ onset, end }) => [onset, end]),
    FINEST_DIVISION,
  ) !== undefined

/** Fine enough for 64ths beside triplets, quintuplets, septuplets and ninths. */
const FINEST_DIVISION = 64 * 9 * 5 * 7

/** Notes ending on divisions where none begins: from this many on they are a matter of touch. */
const MANY_STRANGE = { notes: 8, share: 0.2 }

/** Halves of halves, and tuplets of three, five, seven, nine and fifteen. */
const isMusical = (denominator: number): boolean => [1, 3, 5, 7, 9, 15].includes(oddPart(denominator))

function oddPart(denominator: number): number {
  let odd = denominator
  while (odd % 2 === 0) odd /= 2
  return odd
}

/**
 * Played times on the plainest grid that explains them, beat by beat (least squares with a cost for finer divisions).
 * Ends follow the touch: a small gap before the next note is none.
 */
export function snapToGrid(notes: readonly PlayedNote[], grids = NOTATION.grids): WrittenTime[] {
  const byBeat = new Map<number, number[]>()
  for (const { onset } of notes) {
    const beat = Math.floor(onset + NOTATION.unsteadyQuarters)
    byBeat.set(beat, [...(byBeat.get(beat) ?? []), onset - beat])
  }
  const divisions = new Map([...byBeat].map(([beat, onsets]) => [beat, bestDivision(onsets, grids)]))
  const onsets = notes.map(({ onset }) => {
    const beat = Math.floor(onset + NOTATION.unsteadyQuarters)
    const division = divisions.get(beat)!
    return quarters(beat * division + Math.round((onset - beat) * division), division)
  })
  // An end may lie between the places of the grid, but where nothing finer than sixteenths is wanted.
  const fineness = grids === NOTATION.grids ? 4 : 1
  const exactPlaces = new Map(onsets.map(at => [at.n / at.d, at]))
  const places = [...exactPlaces.keys()].sort((a, b) => a - b)
  return notes.map((note, index) => {
    const onset = onsets[index]!
    const division = divisions.get(Math.floor(note.onset + NOTATION.unsteadyQuarters))!
    const shift = onset.n / onset.d - note.onset
    const end = endByTouch(
      { onset: onset.n / onset.d, end: note.end + shift },
      places,
      Math.max(fineness === 1 ? 1 : 2, division),
    )
    return { onset, end: exactPlaces.get(end) ?? quarters(Math.round(end * division * fineness), division * fineness) }
  })
}

function bestDivision(onsets: readonly number[], grids: typeof NOTATION.grids): number {
  let best = { cost: Number.POSITIVE_INFINITY, division: 1 }
  for (const [division, own] of grids) {
    const places = onsets.map(at => Math.round(at * division))
    const misfit = onsets.reduce(
      (sum, at, index) => sum + ((at - places[index]! / division) / NOTATION.unsteadyQuarters) ** 2,
      0,
    )
    // Two notes struck one after the other must not share a place: that needs the finer division.
    const collapsed = onsets.filter((at, index) =>
      onsets.some(
        (other, place) =>
          place !== index && places[place] === places[index] && at - other > 2.5 * NOTATION.unsteadyQuarters,
      ),
    ).length
    const cost = misfit / 2 + own + collapsed * 4
    if (cost < best.cost) best = { cost, division }
  }
  return best.division
}

/** Where a note is written to end: at the next one when only touch lies between, else on its grid. */
function endByTouch({ onset, end }: PlayedNote, places: readonly number[], division: number): number {
  const next = places[bisectRight(places, onset + 1e-6)]
  if (next !== undefined) {
    const step = next - onset
    if (end < next && (next - end) / step <= NOTATION.touchGap) return next
    if (end > next && (end - next) / step <= NOTATION.touchOverlap) return next
  }
  const close = places[bisectRight(places, end - 1 / (2 * division))]
  if (close !== undefined && close > onset && close < end + 1 / (2 * division)) return close
  return Math.max(onset + 1 / division, Math.round(end * division) / division)
}

/**
 * The swing of played notes, long to short: where the offbeats lie when nearly all are late and no beat is divided in
 * three. Undefined for straight playing.
 */
export function findSwing(onsets: readonly number[]): number | undefined {
  const fractions = onsets.map(at => at - Math.floor(at + 0.05))
  const offbeats = fractions.filter(at => at > 0.4 && at < 0.85)
  const swung = offbeats.filter(at => at >= NOTATION.swungFrom && at <= NOTATION.swungTo)
  const inThree = fractions.filter(at => at > 0.2 && at <= 0.4)
  if (
    swung.length < NOTATION.fewestSwung ||
    swung.length < NOTATION.swungShare * offbeats.length ||
    inThree.length > 0.15 * swung.length
  )
    return undefined
  const middle = [...swung].sort((a, b) => a - b)[swung.length >> 1]!
  return Math.round((20 * middle) / (1 - middle)) / 20
}

/** A swung moment at its straight place: the long part of the beat becomes its first half. */
export function straighten(at: number, ratio: number): number {
  const beat = Math.floor(at + 0.05)
  const share = at - beat
  const long = ratio / (1 + ratio)
  return beat + (share <= long ? share / long / 2 : 0.5 + (share - long) / (1 - long) / 2)
}
