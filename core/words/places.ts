import type { Place } from '../ear/finding'
import type { Arrangement } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { spanPlace, type SpanPlace } from '../music/stretch-place'

/** A bar as the player reads it; the pickup has no number. */
export const barText = (bar: number): string => (bar === 0 ? 'Pickup' : `Bar ${bar}`)

/** What lies within a beat, as it is counted ("1 e & a") or, in triplets, named; by its share of the beat. */
const WITHIN_BEAT: readonly (readonly [share: number, name: string])[] = [
  [0, ''],
  [1 / 4, 'the e of '],
  [1 / 2, 'the & of '],
  [3 / 4, 'the a of '],
  [1 / 3, 'the second triplet note of '],
  [2 / 3, 'the third triplet note of '],
]
/** So near is the same: beats may have been rounded. */
const NEAR = 2e-3

/** "beat 2", "the & of beat 2", "the a of beat 2": a 1-based beat as it is counted. What is finer lies "after" it. */
export function beatText(beat: number): string {
  const whole = Math.floor(beat + NEAR)
  return `${WITHIN_BEAT.find(([share]) => Math.abs(beat - whole - share) < NEAR)?.[1] ?? 'after '}beat ${whole}`
}

export const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1)

/** "bar 3, beat 2", "the pickup": a place named in the middle of a sentence. */
export const placeWords = ({ bar, beat }: { bar: number; beat: number }): string =>
  bar === 0 ? 'the pickup' : `${lowerFirst(barText(bar))}, ${beatText(beat)}`

/** "Bar 3, the & of beat 2, the second time, left hand", as the player counts. */
export function placeText(
  { bar, beat, hand, time = 1 }: Place,
  parts: { beat?: boolean; hand?: boolean } = {},
): string {
  return [
    barText(bar),
    ...(parts.beat === false ? [] : [beatText(beat)]),
    ...(time > 1 ? [`the ${TIMES[time] ?? `${time}th`} time`] : []),
    ...(parts.hand === false || !hand ? [] : [`${hand} hand`]),
  ].join(', ')
}

const TIMES: Record<number, string> = { 2: 'second', 3: 'third' }

/** "bars 5 and 7", "bars 5 to 8", "bar 5": what is named after "in". */
export function barNumbersText(bars: readonly number[]): string {
  const all = [...new Set(bars)].sort((a, b) => a - b)
  const name = (bar: number) => (bar === 0 ? 'the pickup' : `bar ${bar}`)
  if (all.length === 1) return name(all[0]!)
  const inARow = all.at(-1)! - all[0]! === all.length - 1 && all[0]! > 0
  if (inARow && all.length > 2) return `bars ${all[0]} to ${all.at(-1)}`
  if (all.length === 2 && all[0]! > 0) return `bars ${all[0]} and ${all[1]}`
  return `${all.length} bars, first ${name(all[0]!)}`
}

/** "bars 5 to 8", "bar 5", "the pickup to bar 4": from one printed bar to another. */
export const barRangeText = (from: number, to: number): string =>
  from === to
    ? lowerFirst(from === 0 ? 'the pickup' : barText(from))
    : from === 0
      ? `the pickup to bar ${to}`
      : `bars ${from} to ${to}`

/** A stretch as the player reads it: "bars 5 to 8", "the pickup to bar 4, beat 3". */
export function stretchText({ from, to, toBarEnd }: SpanPlace): string {
  if (from.beat === 1 && toBarEnd) return from.bar === to.bar ? `bar ${from.bar}` : `bars ${from.bar} to ${to.bar}`
  const fromText = from.beat === 1 ? `bar ${from.bar}` : placeWords(from)
  return `${fromText} to ${toBarEnd ? `bar ${to.bar}` : placeWords(to)}`
}

/** A stretch of an arrangement as the player reads it. */
export const describeStretch = (arrangement: Arrangement, stretch: ScoreSpan): string =>
  stretchText(spanPlace(arrangement, stretch))
