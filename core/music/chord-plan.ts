import { barAt, type Arrangement } from './arrangement'
import { barLength, beatLength } from './meter'
import type { ScoreSpan } from './passage'
import type { Harmony } from './song-harmony'
import { add, compare, later, multiply, ratio, subtract, type Quarters } from './quarters'

/** A chord and how long it lasts, in bars or beats of the plan. */
export interface PlannedChord {
  symbol: string
  count: number
}
/** Chords repeated in a row, and how many times. */
export interface PlannedTurn {
  chords: PlannedChord[]
  times: number
}
/** What a player counts while playing: whole bars where all chords change on bar lines, otherwise beats. */
export interface ChordPlan {
  unit: 'bar' | 'half bar' | 'beat'
  turns: PlannedTurn[]
}

/** The longest succession of chords looked for as a repeated one (own choice). */
const LONGEST_TURN = 8

/**
 * The plan of chords of a stretch: "four of these, then two of those". Counted in the largest of bar, half bar and beat
 * that all chords last a whole number of; successions that come again at once are said once. A pickup is not counted:
 * the plan begins on the bar line behind it. Undefined where chords change between beats, where between two nothing is
 * clear, or the meter changes.
 */
export function chordPlan(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  harmonies: readonly Pick<Harmony, 'onset' | 'end' | 'symbol'>[],
): ChordPlan | undefined {
  const [from, to] = [countedFrom(arrangement, stretch.from), countedFrom(arrangement, stretch.to)]
  const meters = arrangement.bars
    .filter(bar => compare(bar.start, to) < 0 && compare(add(bar.start, bar.length), from) > 0)
    .map(bar => bar.meter)
  const [meter] = meters
  const inside = harmonies.filter(({ onset, end }) => compare(onset, to) < 0 && compare(end, from) > 0)
  if (!meter || inside.length === 0 || meters.some(one => one.beats !== meter.beats || one.beatType !== meter.beatType))
    return undefined
  if (inside.some((harmony, index) => inside[index + 1] && compare(harmony.end, inside[index + 1]!.onset) < 0))
    return undefined
  const lengths = inside.map((harmony, index) => subtract(inside[index + 1]?.onset ?? to, later(harmony.onset, from)))
  const bar = barLength(meter)
  const units = [
    ['bar', bar],
    ...(meter.beats % 2 === 0 ? [['half bar', { n: bar.n, d: bar.d * 2 }]] : []),
    ['beat', beatLength(meter)],
  ] as ['bar' | 'half bar' | 'beat', Quarters][]
  const found = units.find(([, unit]) => lengths.every(length => length.n > 0 && ratio(length, unit).d === 1))
  if (!found) return undefined
  const chords = joined(inside.map(({ symbol }, index) => ({ symbol, count: ratio(lengths[index]!, found[1]).n })))
  return { unit: found[0], turns: turnsOf(chords) }
}

/** The bar line after a pickup of at most half a bar. */
function countedFrom(arrangement: Arrangement, at: Quarters): Quarters {
  const bar = barAt(arrangement, at)
  const into = add(bar.offset, subtract(at, bar.start))
  return compare(multiply(into, { n: 2, d: 1 }), barLength(bar.meter)) >= 0 ? add(bar.start, bar.length) : at
}

/** The same chord twice in a row is one. */
function joined(chords: readonly PlannedChord[]): PlannedChord[] {
  const found: PlannedChord[] = []
  for (const chord of chords) {
    const last = found.at(-1)
    if (last?.symbol === chord.symbol) last.count += chord.count
    else found.push({ ...chord })
  }
  return found
}

/** Immediate repetitions are gathered, the shortest succession first. */
function turnsOf(chords: readonly PlannedChord[]): PlannedTurn[] {
  const turns: PlannedTurn[] = []
  const isSame = (a: PlannedChord | undefined, b: PlannedChord | undefined) =>
    a !== undefined && b !== undefined && a.symbol === b.symbol && a.count === b.count
  for (let at = 0; at < chords.length;) {
    let best = { length: 1, times: 1 }
    for (let length = 2; length <= LONGEST_TURN && at + 2 * length <= chords.length; length++) {
      let times = 1
      while (
        Array.from({ length }, (_, place) => place).every(place =>
          isSame(chords[at + place], chords[at + times * length + place]),
        )
      )
        times++
      if (times > 1 && length * times > best.length * best.times) best = { length, times }
    }
    const last = turns.at(-1)
    const turn = chords.slice(at, at + best.length)
    if (best.times === 1 && last?.times === 1) last.chords.push(...turn)
    else turns.push({ chords: turn, times: best.times })
    at += best.length * best.times
  }
  return turns
}
