import { barAt, type Arrangement, type Bar } from './arrangement'
import type { ScoreSpan } from './passage'
import { add, compare, earlier, later, type Quarters } from './quarters'

/** Stretches of whole bars as a player marks them on the page. All stay within the piece and hold at least one bar. */

const endOf = (bar: Bar): Quarters => add(bar.start, bar.length)

/** The bars from one to another, by index from 0, whichever comes first. */
export function barsMarked({ bars }: Arrangement, one: number, other: number): ScoreSpan {
  const within = (index: number) => Math.max(0, Math.min(bars.length - 1, index))
  return { from: bars[within(Math.min(one, other))]!.start, to: endOf(bars[within(Math.max(one, other))]!) }
}

/** The first and last bar of a stretch, by index. */
export function barsOfSpan(arrangement: Arrangement, { from, to }: ScoreSpan): [number, number] {
  return [
    barAt(arrangement, from).index,
    Math.max(
      0,
      arrangement.bars.findLastIndex(bar => compare(bar.start, to) < 0),
    ),
  ]
}

/** As many bars as before, some further on or back. */
export function moved(arrangement: Arrangement, stretch: ScoreSpan, byBars: number): ScoreSpan {
  const [first, last] = barsOfSpan(arrangement, stretch)
  const by = Math.max(-first, Math.min(arrangement.bars.length - 1 - last, byBars))
  return by === 0 ? stretch : barsMarked(arrangement, first + by, last + by)
}

/** More or fewer bars at its end. */
export function grown(arrangement: Arrangement, stretch: ScoreSpan, byBars: number): ScoreSpan {
  const [first, last] = barsOfSpan(arrangement, stretch)
  return barsMarked(arrangement, first, Math.max(first, last + byBars))
}

/**
 * The span with another beginning or end, which may lie inside a bar; the other edge moves by a bar if it would be
 * passed.
 */
export function withEdge(arrangement: Arrangement, stretch: ScoreSpan, edge: 'from' | 'to', at: Quarters): ScoreSpan {
  const { bars } = arrangement
  if (edge === 'from') {
    const from = earlier(later(at, bars[0]!.start), bars.at(-1)!.start)
    return { from, to: compare(stretch.to, from) > 0 ? stretch.to : endOf(barAt(arrangement, from)) }
  }
  const to = earlier(later(at, endOf(bars[0]!)), endOf(bars.at(-1)!))
  return {
    from:
      compare(stretch.from, to) < 0
        ? stretch.from
        : bars[Math.max(0, barsOfSpan(arrangement, { from: stretch.from, to })[1])]!.start,
    to,
  }
}

/** The bars with these printed numbers; undefined where there are none. */
export function barsNumbered(arrangement: Arrangement, from: number, to: number): ScoreSpan | undefined {
  const first = arrangement.bars.find(bar => bar.number === Math.min(from, to))
  const last = arrangement.bars.findLast(bar => bar.number === Math.max(from, to))
  return first && last && barsMarked(arrangement, first.index, last.index)
}

/** The whole piece. */
export const wholeBarSpan = ({ bars }: Arrangement): ScoreSpan => ({ from: bars[0]!.start, to: endOf(bars.at(-1)!) })
