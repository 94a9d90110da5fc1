import { columnsOf, type SongEvent } from './note-index'

/** Strokes that fall together: their pitches in order, when they begin and end, and their numbers in the take. */
export interface StrokeEvent {
  atMs: number
  endMs: number
  pitches: readonly number[]
  first: number
  last: number
}

/**
 * A stretch of what was heard that is a stretch of a song: heard moments from … to, and which stands for which moment
 * of the song.
 */
export interface AlignedStretch {
  from: number
  to: number
  pairs: [heard: number, event: number][]
  restarts: number
  bits: number
}

/**
 * What each thing says for or against it, bits: own choice, from how often melodies step and leap (common practice:
 * most intervals are steps) and how often players slip.
 */
const BITS = {
  /**
   * A note that is written there, by how far it lies from the one before, half steps: a step is soon met by chance, a
   * leap is not.
   */
  same: 2,
  step: 2,
  third: 3,
  leap: 4.2,
  /** Each further note of a chord that is written there. */
  chordNote: 1.5,
  /** A struck note that is not written there, and a written one that is not struck. */
  foreign: -2.2,
  absent: -1.2,
  /** A skipped event, and a stroke that matches nothing. */
  skipped: -2.5,
  extra: -3,
  /** Going back (or on) to another place. */
  jump: -13,
  /** The time since the last note against the tempo so far: as it should be, or not. */
  inTime: 0.8,
  outOfTime: -0.8,
} as const
/** How far from the due time a note may be and still be in time: a share of the step. */
const IN_TIME_SHARE = 0.3
/** The most written events skipped between two that are played, and the most extra strokes. */
const MAX_SKIPPED = 3
const MAX_EXTRA = 2
/** Stretches worth less, bits, are not looked at. */
const MIN_BITS = 12

const START = -1

/**
 * For each cell of the table what the way to it is worth, which cell it comes from (START where it begins there), and
 * whether by a jump. Only where it is worth something do the others mean anything.
 */
interface Tables {
  score: Float32Array
  origin: Int32Array
  jumped: Uint8Array
}
let tables: Tables = { score: new Float32Array(0), origin: new Int32Array(0), jumped: new Uint8Array(0) }

/** Tables of a number of cells, reused: there are thousands of them in an hour of playing. */
function tablesOf(cells: number): Tables {
  if (tables.score.length < cells)
    tables = {
      score: new Float32Array(2 * cells),
      origin: new Int32Array(2 * cells),
      jumped: new Uint8Array(2 * cells),
    }
  tables.score.fill(0, 0, cells)
  return tables
}

/**
 * Local alignment of heard moments with a song's: everything above zero that hangs together, best first, without
 * overlap. Dynamic programming over both, linear in the number of heard moments times the moments of the song.
 */
export function alignedStretches(
  heard: readonly StrokeEvent[],
  events: readonly SongEvent[],
  columnsOfPitch: ReadonlyMap<number, readonly number[]> = columnsOf(events),
): AlignedStretch[] {
  const [rows, columns] = [heard.length, events.length]
  const { score, origin, jumped } = tablesOf(rows * columns)
  const looked = new Int32Array(columns)
  const ends: number[] = []
  let best: { value: number; cell: number } = { value: 0, cell: START }
  for (let row = 0; row < rows; row++) {
    const nextBest = { value: 0, cell: START }
    // Only moments that have any of the pitches say anything; one that has several is looked at once.
    for (const pitch of heard[row]!.pitches)
      for (const column of columnsOfPitch.get(pitch) ?? []) {
        if (looked[column] === row + 1) continue
        looked[column] = row + 1
        const match = matchBits(heard, events, row, column)
        const cell = row * columns + column
        if (match <= 0) continue
        let [value, from, isJump] = [0, START, 0]
        // From the moment before, or one or two before that; heard moments may lie between that stand for nothing.
        for (let extra = 0; extra <= MAX_EXTRA && row - 1 - extra >= 0; extra++) {
          for (let skipped = 0; skipped <= MAX_SKIPPED && column - 1 - skipped >= 0; skipped++) {
            const before = (row - 1 - extra) * columns + column - 1 - skipped
            if (score[before]! <= 0) continue
            const here =
              score[before]! +
              extra * BITS.extra +
              skipped * BITS.skipped +
              timeBits(heard, events, origin, before, row, column, columns)
            if (here > value) [value, from, isJump] = [here, before, 0]
          }
        }
        if (best.cell !== START && best.value + BITS.jump > value)
          [value, from, isJump] = [best.value + BITS.jump, best.cell, 1]
        score[cell] = value + match
        origin[cell] = from
        jumped[cell] = isJump
        if (score[cell]! >= MIN_BITS) ends.push(cell)
        if (score[cell]! > nextBest.value) [nextBest.value, nextBest.cell] = [score[cell]!, cell]
      }
    // What was reached is worth less the longer nothing continues it.
    best = nextBest.value > best.value + BITS.extra ? nextBest : { value: best.value + BITS.extra, cell: best.cell }
    if (best.value <= 0) best = { value: 0, cell: START }
  }
  return stretchesIn(
    ends.sort((a, b) => score[b]! - score[a]!),
    { score, origin, jumped, columns },
  )
}

/** The ways through the table that are worth most, none sharing a heard moment with a better one. */
function stretchesIn(
  ends: readonly number[],
  { score, origin, jumped, columns }: { score: Float32Array; origin: Int32Array; jumped: Uint8Array; columns: number },
): AlignedStretch[] {
  const taken = new Set<number>()
  const stretches: AlignedStretch[] = []
  for (const end of ends) {
    if (taken.has(Math.floor(end / columns))) continue
    const pairs: [number, number][] = []
    let restarts = 0
    let at = end
    let isFree = true
    for (; at !== START && isFree; at = origin[at]!) {
      isFree = !taken.has(Math.floor(at / columns))
      if (!isFree) break
      pairs.push([Math.floor(at / columns), at % columns])
      restarts += jumped[at]!
    }
    // Where a better one has taken its beginning, only what comes behind is its own.
    const bits = score[end]! - (at === START ? 0 : score[at]!)
    for (const [row] of pairs) taken.add(row)
    if (bits < MIN_BITS) continue
    pairs.reverse()
    stretches.push({ from: pairs[0]![0], to: pairs.at(-1)![0], pairs, restarts, bits })
  }
  return stretches
}

/** What the pitches of a heard moment say for a moment of the song. */
function matchBits(heard: readonly StrokeEvent[], events: readonly SongEvent[], row: number, column: number): number {
  const { pitches } = heard[row]!
  const written = events[column]!.pitches
  let common = 0
  for (const pitch of pitches) if (written.includes(pitch)) common++
  if (common === 0) return 0
  const before = heard[row - 1]?.pitches.at(-1)
  const far = before === undefined ? 7 : Math.abs(pitches.at(-1)! - before)
  const first = far === 0 ? BITS.same : far <= 2 ? BITS.step : far <= 4 ? BITS.third : BITS.leap
  return (
    first +
    (common - 1) * BITS.chordNote +
    (pitches.length - common) * BITS.foreign +
    (written.length - common) * BITS.absent
  )
}

/** Whether a step takes as long as the step before it would have it. */
function timeBits(
  heard: readonly StrokeEvent[],
  events: readonly SongEvent[],
  origin: Int32Array,
  before: number,
  row: number,
  column: number,
  columns: number,
): number {
  const earlier = origin[before]!
  if (earlier === START) return 0
  const [r1, c1] = [Math.floor(before / columns), before % columns]
  const [r0, c0] = [Math.floor(earlier / columns), earlier % columns]
  const [playedStep, writtenStep] = [heard[row]!.atMs - heard[r1]!.atMs, events[column]!.atMs - events[c1]!.atMs]
  const [playedBefore, writtenBefore] = [heard[r1]!.atMs - heard[r0]!.atMs, events[c1]!.atMs - events[c0]!.atMs]
  if (writtenBefore <= 0 || writtenStep <= 0 || playedBefore <= 0) return 0
  const dueMs = (writtenStep * playedBefore) / writtenBefore
  return Math.abs(playedStep - dueMs) <= IN_TIME_SHARE * dueMs ? BITS.inTime : BITS.outOfTime
}
