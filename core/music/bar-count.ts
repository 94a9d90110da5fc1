import { bisectRight } from 'd3-array'
import type { Arrangement, Bar } from './arrangement'
import { barLength, feltBeatQuarters } from './meter'
import { toDecimal } from './quarters'

/** A further ending of at most this many bars takes the place of the first; a longer one is new music (own choice). */
const MAX_ENDING_BARS = 2

/**
 * The number of bars before a time (in quarter notes), as a player counts them: a pickup is part of a bar, a second
 * ending replaces the first, and empty bars before the first note are not counted.
 */
export function barsBetween({
  bars,
  notes,
  others,
}: Pick<Arrangement, 'bars' | 'notes' | 'others'>): (quarter: number) => number {
  const starts = bars.map(bar => toDecimal(bar.start))
  const whole = bars.map(bar => toDecimal(barLength(bar.meter)))
  const further = bars.map((_, index) => isFurtherEnding(bars, index))
  let count = 0
  const counts = bars.map((bar, index) => {
    const before = count
    if (!further[index]) count += toDecimal(bar.length) / whole[index]!
    return before
  })
  const first = Math.min(
    ...[notes, ...others.map(role => role.notes)].flatMap(list => list[0]?.barIndex ?? []),
    bars.length - 1,
  )
  const empty = counts[first] ?? 0
  return quarter => {
    const index = Math.max(0, bisectRight(starts, quarter + 1e-9) - 1)
    return Math.max(
      0,
      (further[index] ? counts[index]! : counts[index]! + (quarter - starts[index]!) / whole[index]!) - empty,
    )
  }
}

/**
 * Whether a bar is in an ending: marked as such, or the one bar between a first ending and the next sign where the
 * second is not marked.
 */
export function isEnding(bars: readonly Bar[], index: number): boolean {
  const [bar, before, next] = [bars[index], bars[index - 1], bars[index + 1]]
  if (!bar) return false
  return (
    bar.endings !== undefined ||
    (before?.endings !== undefined &&
      before.repeatEnd !== undefined &&
      !bar.repeatStart &&
      (bar.sectionEnd ?? next?.repeatStart ?? false))
  )
}

/** Whether a bar is of a short second (or third) ending. */
function isFurtherEnding(bars: readonly Bar[], index: number): boolean {
  const endingsAt = (at: number) => (isEnding(bars, at) ? (bars[at]!.endings ?? [2]) : [])
  const own = endingsAt(index)
  if (own.length === 0 || own.includes(1)) return false
  const isSame = (at: number) => endingsAt(at).join() === own.join()
  let length = 1
  for (let at = index - 1; length <= MAX_ENDING_BARS && isSame(at); at--) length++
  for (let at = index + 1; length <= MAX_ENDING_BARS && isSame(at); at++) length++
  return length <= MAX_ENDING_BARS
}

/**
 * A place in a bar: quarter notes and felt beats from where the whole bar begins, and whether that is half a bar away
 * from another place.
 */
export interface BarPlace {
  quarters: number
  beats: number
  isHalfBarFrom: (quarters: number) => boolean
}

/** Where moments (in quarter notes) lie in their bars. */
export function barPlaces({ bars }: Pick<Arrangement, 'bars'>): (quarter: number) => BarPlace {
  const starts = bars.map(bar => toDecimal(bar.start))
  const table = bars.map(({ start, offset, meter }) => ({
    begins: toDecimal(start) - toDecimal(offset),
    beat: feltBeatQuarters(meter),
    half: meter.beats % 2 === 0 ? (2 * meter.beats) / meter.beatType : Number.NaN,
  }))
  return quarter => {
    const { begins, beat, half } = table[Math.max(0, bisectRight(starts, quarter + 1e-9) - 1)]!
    const quarters = quarter - begins
    return {
      quarters,
      beats: quarters / beat,
      isHalfBarFrom: other => Math.abs(Math.abs(quarters - other) - half) < 1e-6,
    }
  }
}
