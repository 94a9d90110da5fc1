import { barAt, positionIn, type Arrangement, type Position } from '../music/arrangement'
import { compare, type Quarters } from '../music/quarters'

/** A moment as bar and beat, the beat as a decimal. */
export function placed(arrangement: Arrangement, at: Quarters): Position {
  const { bar, beat } = positionIn(barAt(arrangement, at), at)
  return { bar, beat: Math.round(beat * 1e6) / 1e6 }
}

/** Where the last beat of a stretch begins that ends at this moment. */
export function lastBeat(arrangement: Arrangement, end: Quarters): Position {
  const bar = [...arrangement.bars].reverse().find(one => compare(one.start, end) < 0) ?? arrangement.bars[0]!
  const { beat } = positionIn(bar, end)
  return { bar: bar.number, beat: Math.max(1, Math.ceil(beat - 1 - 1e-9)) }
}
