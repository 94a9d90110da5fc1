import type { Bar } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import type { Moment } from './moments'
import type { Attempts } from './runs'

/**
 * From a moment, where else the writing may lead than on: past a repeat that is not taken, or once more to its
 * beginning.
 */
export type Turns = ReadonlyMap<number, readonly number[]>

export const NO_TURNS: Turns = new Map()

/** The moments at repeat signs and endings, and where a player who counts the repeats otherwise goes on. */
export function turnsOf(moments: readonly Moment[], expected: readonly ExpectedNote[], bars: readonly Bar[]): Turns {
  const turns = new Map<number, number[]>()
  if (moments.length === 0 || !bars.some(bar => bar.repeatEnd)) return turns
  const barOf = Int32Array.from(moments, ({ notes }) => expected[notes.at(-1)!]!.barIndex)
  const add = (from: number, to: number) => {
    if (from >= 0 && to >= 0 && to < moments.length && to !== from + 1)
      turns.set(from, [...(turns.get(from) ?? []), to])
  }
  const begins: number[] = [0]
  for (let moment = 1; moment < moments.length; moment++)
    if (barOf[moment] !== barOf[moment - 1] || goesBack(moments, expected, moment)) begins.push(moment)
  begins.forEach((first, place) => {
    const bar = barOf[first]!
    const last = (begins[place + 1] ?? moments.length) - 1
    if (!bars[bar]!.repeatEnd) return
    const start = sectionOf(bars, bar)
    // Of this time through: where its first bar began, and where its endings begin.
    let sectionFirst = place
    while (
      sectionFirst > 0 &&
      barOf[begins[sectionFirst]!]! > start &&
      barOf[begins[sectionFirst - 1]!]! < barOf[begins[sectionFirst]!]!
    )
      sectionFirst--
    const endingFirst = begins.findIndex(
      (begin, at) => at >= sectionFirst && at <= place && bars[barOf[begin]!]!.endings !== undefined,
    )
    const next = begins[place + 1]
    if (next !== undefined && barOf[next]! <= bar) {
      // The repeat follows; whoever does not take it goes on behind it, or into the other ending.
      const behind = begins.findIndex((begin, at) => at > place && barOf[begin]! > bar)
      if (behind >= 0) add(endingFirst > sectionFirst ? begins[endingFirst]! - 1 : last, begins[behind]!)
    } else if (barOf[begins[sectionFirst]!] === start) add(last, begins[sectionFirst]!)
  })
  return turns
}

const goesBack = (moments: readonly Moment[], expected: readonly ExpectedNote[], moment: number): boolean =>
  expected[moments[moment]!.notes.at(-1)!]!.time !== expected[moments[moment - 1]!.notes.at(-1)!]!.time

/**
 * A repeat that was not taken, or taken once too often: the moments or strokes of the time too few or too many, and
 * which bars it goes over.
 */
export interface RepeatHeard {
  kind: 'not-taken' | 'taken-again'
  fromBarIndex: number
  toBarIndex: number
  from: number
  to: number
  run: number
}

/**
 * Jumps that are a repeat left out or taken again, and no slip: the player went from the end of a repeated section
 * straight on, or once more to its beginning. `from` and `to` are moments of a repeat not taken, and strokes of one
 * taken again; `run` is the one that went on.
 */
export function repeatsHeard(
  { runs }: Attempts,
  moments: readonly Moment[],
  expected: readonly ExpectedNote[],
  bars: readonly Bar[],
): RepeatHeard[] {
  const noteAt = (moment: number) => expected[moments[moment]!.notes.at(-1)!]!
  const isSamePlace = (one: number, other: number) =>
    one < moments.length &&
    noteAt(one).barIndex === noteAt(other).barIndex &&
    Math.abs(noteAt(one).beat - noteAt(other).beat) < 1e-6
  const isLastOfBar = (moment: number) =>
    moment + 1 >= moments.length ||
    noteAt(moment + 1).barIndex !== noteAt(moment).barIndex ||
    noteAt(moment + 1).beat <= noteAt(moment).beat
  const isFirstOfBar = (moment: number) =>
    moment === 0 ||
    noteAt(moment - 1).barIndex !== noteAt(moment).barIndex ||
    noteAt(moment - 1).beat >= noteAt(moment).beat
  /** The last moment before the music goes back, from one on; -1 when it does not before another. */
  const turnsBack = (from: number, until: number) => {
    for (let moment = from; moment < until; moment++)
      if (noteAt(moment + 1).barIndex < noteAt(moment).barIndex) return moment
    return -1
  }
  return runs.slice(1).flatMap((run, index): RepeatHeard[] => {
    const last = runs[index]!.lastMoment
    const first = run.firstMoment
    if (first > last + 1) {
      const turn = turnsBack(last, first)
      if (turn < 0) return []
      const [before, after] = [noteAt(last).barIndex, noteAt(first).barIndex]
      const goesOn =
        isLastOfBar(last) &&
        isFirstOfBar(first) &&
        (after === before + 1 ||
          (after > before &&
            bars.slice(before + 1, after).every(bar => bar.endings) &&
            bars[after]!.endings !== undefined))
      if (!isSamePlace(last + 1, first) && !goesOn) return []
      return [
        {
          kind: 'not-taken',
          fromBarIndex: noteAt(turn + 1).barIndex,
          toBarIndex: noteAt(turn).barIndex,
          from: last + 1,
          to: first - 1,
          run: index + 1,
        },
      ]
    }
    if (first > last) return []
    const section = sectionOf(bars, noteAt(last).barIndex)
    const turn = turnsBack(first, last + 1 < moments.length ? last + 1 : last)
    const isAgain = isSamePlace(last + 1, first) && turn >= 0
    const isOnceMore =
      isLastOfBar(last) &&
      isFirstOfBar(first) &&
      noteAt(first).barIndex === section &&
      bars[noteAt(last).barIndex]!.repeatEnd !== undefined
    if (!isAgain && !isOnceMore) return []
    return [
      {
        kind: 'taken-again',
        fromBarIndex: isAgain ? noteAt(turn + 1).barIndex : section,
        toBarIndex: isAgain ? noteAt(turn).barIndex : noteAt(last).barIndex,
        from: runs[index]!.from,
        to: runs[index]!.to,
        run: index + 1,
      },
    ]
  })
}

/**
 * Where the repeated section that ends with a bar begins: after the last repeat sign before it, or at the beginning.
 */
function sectionOf(bars: readonly Bar[], end: number): number {
  for (let index = end; index >= 0; index--) {
    if (bars[index]!.repeatStart) return index
    if (index < end && bars[index]!.repeatEnd) return index + 1
  }
  return 0
}
