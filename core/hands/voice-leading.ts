import type { MidiPitch } from '../music/pitch'

/** One voice from a chord to the next: `by` in half steps; `from` or `to` is missing where a voice comes or goes. */
export interface VoiceMove { from?: MidiPitch, to?: MidiPitch, by: number }

/** A voice that begins or ends costs like a move of so many half steps. */
const COMES_OR_GOES = 4

/**
 * How the voices of one chord lead to the next, lowest first: voices do not cross, and all of them together move as little as can be.
 * Both chords sorted from low to high.
 */
export function leadVoices(from: readonly MidiPitch[], to: readonly MidiPitch[]): VoiceMove[] {
  const cost: number[][] = [Array.from({ length: to.length + 1 }, (_, j) => j * COMES_OR_GOES)]
  for (let i = 1; i <= from.length; i++) {
    cost[i] = [i * COMES_OR_GOES]
    for (let j = 1; j <= to.length; j++) {
      cost[i]![j] = Math.min(cost[i - 1]![j - 1]! + Math.abs(from[i - 1]! - to[j - 1]!), cost[i - 1]![j]! + COMES_OR_GOES, cost[i]![j - 1]! + COMES_OR_GOES)
    }
  }
  const moves: VoiceMove[] = []
  for (let [i, j] = [from.length, to.length]; i > 0 || j > 0;) {
    if (i > 0 && j > 0 && cost[i]![j] === cost[i - 1]![j - 1]! + Math.abs(from[i - 1]! - to[j - 1]!)) {
      moves.unshift({ from: from[--i], to: to[--j], by: to[j]! - from[i]! })
    }
    else if (i > 0 && cost[i]![j] === cost[i - 1]![j]! + COMES_OR_GOES) moves.unshift({ from: from[--i], by: 0 })
    else moves.unshift({ to: to[--j], by: 0 })
  }
  return moves
}

/** Half steps moved by all voices together; a voice that comes or goes counts as a major third. */
export const movement = (moves: readonly VoiceMove[]): number =>
  moves.reduce((sum, { from, to, by }) => sum + (from === undefined || to === undefined ? COMES_OR_GOES : Math.abs(by)), 0)
