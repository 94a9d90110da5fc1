import { arrangementEnd, barAt, positionIn, type Arrangement, type Position } from './arrangement'
import type { ScoreSpan } from './passage'
import { add, compare } from './quarters'

/** The printed place of a span: its first position, its last beat, and whether it reaches the end of its last bar. */
export interface SpanPlace {
  from: Position
  to: Position
  toBarEnd: boolean
}

/** Where a stretch lies in the printed score. */
export function spanPlace(arrangement: Arrangement, stretch: ScoreSpan): SpanPlace {
  const from = positionIn(barAt(arrangement, stretch.from), stretch.from)
  const lastBar = arrangement.bars.findLast(bar => compare(bar.start, stretch.to) < 0) ?? arrangement.bars[0]!
  const toBarEnd =
    compare(stretch.to, add(lastBar.start, lastBar.length)) >= 0 ||
    compare(stretch.to, arrangementEnd(arrangement)) >= 0
  return { from, to: { bar: lastBar.number, beat: Math.ceil(positionIn(lastBar, stretch.to).beat - 1) }, toBarEnd }
}
