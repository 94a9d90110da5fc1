import type { SwingMark } from './arrangement'
import { compare, toDecimal, type Quarters } from './quarters'

/** The swing in force at a score time; undefined before the first mark. */
export function swingAt(marks: readonly SwingMark[], at: Quarters): SwingMark | undefined {
  return marks.findLast(mark => compare(mark.onset, at) <= 0)
}

/** The shorter of two swung notes is seldom shorter than this, ms (Friberg & Sundström 2002, unchecked). */
const SHORT_NOTE_MS = 100
/** Taught and written as triplets (common practice). */
const TAUGHT_RATIO = 2

/**
 * The ratio of long to short where a score only says "swing": two to one as taught, less where the tempo would make the
 * short note shorter than 100 ms, toward even eighths at 300 beats a minute (after Friberg & Sundström 2002, Music
 * Perception 19, unchecked).
 */
export function swingRatioAtTempo(beatsPerMinute: number): number {
  const beatMs = 60_000 / beatsPerMinute
  return Math.min(TAUGHT_RATIO, Math.max(1, (beatMs - SHORT_NOTE_MS) / SHORT_NOTE_MS))
}

/** Long to short as the mark asks at a tempo in quarter notes a minute. */
export const askedRatio = (mark: SwingMark, quarterBpm: number): number =>
  mark.ratio ?? swingRatioAtTempo(mark.unit === '16th' ? 2 * quarterBpm : quarterBpm)

/**
 * How much later than written, in quarter notes, a note sounds that stands `inBar` behind the bar line: the second of
 * two swung notes moves, everything else (triplets too) stays where it is.
 */
export function swungShare(mark: SwingMark, inBar: Quarters, quarterBpm: number): number {
  const unit = mark.unit === '16th' ? 0.5 : 1
  const place = toDecimal(inBar) / unit
  if (Math.abs(place - Math.floor(place) - 0.5) > 1e-6) return 0
  const ratio = askedRatio(mark, quarterBpm)
  return unit * (ratio / (1 + ratio) - 0.5)
}
