import type { ScoreEvent } from './score-events'
import type { ExpectedNote } from '../music/passage'
import type { Bar } from '../music/arrangement'

/**
 * From a event, where else the writing may lead than on: past a repeat that is not taken, or once more to its
 * beginning.
 */
export type RepeatJumps = ReadonlyMap<number, readonly number[]>

export const NO_REPEAT_JUMPS: RepeatJumps = new Map()

/** The events at repeat signs and endings, and where a player who counts the repeats otherwise goes on. */
export function repeatJumpsOf(
  events: readonly ScoreEvent[],
  expected: readonly ExpectedNote[],
  bars: readonly Bar[],
): RepeatJumps {
  const turns = new Map<number, number[]>()
  if (events.length === 0 || !bars.some(bar => bar.repeatEnd)) return turns
  const barOf = Int32Array.from(events, ({ notes }) => expected[notes.at(-1)!]!.barIndex)
  const add = (from: number, to: number) => {
    if (from >= 0 && to >= 0 && to < events.length && to !== from + 1) turns.set(from, [...(turns.get(from) ?? []), to])
  }
  const begins: number[] = [0]
  for (let event = 1; event < events.length; event++)
    if (barOf[event] !== barOf[event - 1] || goesBack(events, expected, event)) begins.push(event)
  begins.forEach((first, place) => {
    const bar = barOf[first]!
    const last = (begins[place + 1] ?? events.length) - 1
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

export const goesBack = (events: readonly ScoreEvent[], expected: readonly ExpectedNote[], event: number): boolean =>
  expected[events[event]!.notes.at(-1)!]!.time !== expected[events[event - 1]!.notes.at(-1)!]!.time

/**
 * Where the repeated section that ends with a bar begins: after the last repeat sign before it, or at the beginning.
 */
export function sectionOf(bars: readonly Bar[], end: number): number {
  for (let index = end; index >= 0; index--) {
    if (bars[index]!.repeatStart) return index
    if (index < end && bars[index]!.repeatEnd) return index + 1
  }
  return 0
}
