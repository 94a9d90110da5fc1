import { sectionOf } from './repeat-jumps'
import type { Bar } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import type { ScoreEvent } from './score-events'
import type { Attempts } from './runs'

/** A repeat not taken, or taken once too often: its events or strokes, and the bars it covers. */
export interface RepeatHeard {
  kind: 'not-taken' | 'taken-again'
  fromBarIndex: number
  toBarIndex: number
  from: number
  to: number
  run: number
}

/**
 * Jumps that are a repeat left out or taken again rather than a slip: from the end of a repeated section straight on,
 * or once more to its start. `from` and `to` are events of a repeat not taken, and strokes of one taken again; `run` is
 * the run that followed.
 */
export function repeatsHeard(
  { runs }: Attempts,
  events: readonly ScoreEvent[],
  expected: readonly ExpectedNote[],
  bars: readonly Bar[],
): RepeatHeard[] {
  const noteAt = (event: number) => expected[events[event]!.notes.at(-1)!]!
  const isSamePlace = (one: number, other: number) =>
    one < events.length &&
    noteAt(one).barIndex === noteAt(other).barIndex &&
    Math.abs(noteAt(one).beat - noteAt(other).beat) < 1e-6
  const isLastOfBar = (event: number) =>
    event + 1 >= events.length ||
    noteAt(event + 1).barIndex !== noteAt(event).barIndex ||
    noteAt(event + 1).beat <= noteAt(event).beat
  const isFirstOfBar = (event: number) =>
    event === 0 || noteAt(event - 1).barIndex !== noteAt(event).barIndex || noteAt(event - 1).beat >= noteAt(event).beat
  /** The last event before the music goes back, searched from one event on; -1 when it does not before `until`. */
  const turnsBack = (from: number, until: number) => {
    for (let event = from; event < until; event++) if (noteAt(event + 1).barIndex < noteAt(event).barIndex) return event
    return -1
  }
  return runs.slice(1).flatMap((run, index): RepeatHeard[] => {
    const last = runs[index]!.lastEvent
    const first = run.firstEvent
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
    const turn = turnsBack(first, last + 1 < events.length ? last + 1 : last)
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
