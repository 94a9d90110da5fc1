import type { Arrangement } from '../music/arrangement'
import { add, compare, earlier, later, subtract, toDecimal, type Quarters } from '../music/quarters'
import { harmonyOf, type Harmony } from '../music/song-harmony'
import { beatsOf } from './placed'

/**
 * The chords that a pattern is played to: the score's symbols as they stand; of what is only heard in the notes the one
 * that lasts longest in each half of a bar (in each beat of two, in a bar of three as a whole), and where none is clear
 * the one before, so that what merely passes does not move the hand.
 */
export function patternHarmony(arrangement: Arrangement): Harmony[] {
  const harmonies = harmonyOf(arrangement)
  return harmonies[0]?.from === 'notes' ? laidOut(arrangement, harmonies) : harmonies
}

function laidOut(arrangement: Arrangement, harmonies: readonly Harmony[]): Harmony[] {
  const found: Harmony[] = []
  let first = 0
  for (const bar of arrangement.bars) {
    const beats = beatsOf(bar)
    const count = beats.length - 1
    const step = count % 2 === 0 ? Math.max(1, count / 2) : count
    for (let beat = 0; beat < count; beat += step) {
      const [from, to] = [later(beats[beat]!, bar.start), earlier(beats[beat + step]!, add(bar.start, bar.length))]
      if (compare(from, to) >= 0) continue
      while (first < harmonies.length && compare(harmonies[first]!.end, from) <= 0) first++
      let longest: Harmony | undefined
      let most = 0
      for (let index = first; index < harmonies.length && compare(harmonies[index]!.onset, to) < 0; index++) {
        const length = lengthWithin(harmonies[index]!, from, to)
        if (length <= most) continue
        most = length
        longest = harmonies[index]
      }
      const last = found.at(-1)
      const own = longest ?? last
      if (!own) continue
      if (last && last.symbol === own.symbol && compare(last.end, from) === 0) last.end = to
      else found.push({ ...own, onset: from, end: to })
    }
  }
  return found
}

const lengthWithin = ({ onset, end }: Harmony, from: Quarters, to: Quarters): number =>
  toDecimal(subtract(earlier(end, to), later(onset, from)))
