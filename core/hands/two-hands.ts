import { EACH_HAND } from '#core/music/arrangement'
import type { Hand } from '../music/arrangement'
import { TABLE_REACH } from './ergonomics'
import { overOctave } from './difficulty'
import { withinHold, type HeldKey } from './reach'

/**
 * A key for one of two hands, in any one unit of time. `isKept`: a note of the tune, which is played whatever else has
 * to give way.
 */
export interface HandKey extends HeldKey {
  hand: Hand
}

export interface TwoHands {
  /** From thumb to little finger, half steps; keys that a hand holds at once. */
  reach?: number
  keys?: number
  /** The length of a time unit, seconds, at the tempo that it is to be played at. */
  unitSeconds: number
}

/**
 * How far a hand goes in the time it has, half steps beyond the octave it lies over: so many at once, and so many more
 * a second. Own choice: an octave beyond in a sixth of a second, as fast playing with wide basses asks for.
 */
export const LEAPS = { atOnce: 2, perSecond: 72 } as const

/**
 * What two hands can play of notes: no more keys and no wider than each holds, none above the other, no leap that there
 * is no time for. Whatever lies in the way of the tune is left out or let go; of the rest the outer voices stay. In
 * order of onset; notes that are shortened are new.
 */
export function playableByTwo<Key extends HandKey>(
  notes: readonly Key[],
  { reach = TABLE_REACH, keys = 5, unitSeconds }: TwoHands,
): Key[] {
  const sorted = (some: readonly Key[]) => [...some].sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)
  const each = (some: readonly Key[], kept: (own: readonly Key[], hand: Hand) => readonly Key[]) =>
    sorted(
      EACH_HAND.flatMap(hand =>
        kept(
          some.filter(note => note.hand === hand),
          hand,
        ),
      ),
    )
  const held = each(sorted(notes), (own, hand) =>
    withinHold(own, hand === 'left' ? 'lowest' : 'highest', { keys, reach }),
  )
  return each(uncrossed(held), own => withoutLeaps(own, unitSeconds))
}

/** Whether a hand that lies over some keys gets to others in time. */
export const isInTime = (lies: { low: number; high: number }, low: number, high: number, seconds: number): boolean =>
  Math.max(lies.low - low, high - lies.high) <= LEAPS.atOnce + LEAPS.perSecond * seconds

/** Without what a hand cannot get to: the part of a chord that it can is played, the tune always. */
function withoutLeaps<Key extends HandKey>(notes: readonly Key[], unitSeconds: number): Key[] {
  const kept: Key[] = []
  let lies: { low: number; high: number; at: number } | undefined
  for (let first = 0; first < notes.length;) {
    let next = first + 1
    while (next < notes.length && notes[next]!.onset === notes[first]!.onset) next++
    const at = notes[first]!.onset
    const seconds = lies ? (at - lies.at) * unitSeconds : Number.POSITIVE_INFINITY
    const reached = notes
      .slice(first, next)
      .filter(({ pitch, isKept }) => isKept || !lies || isInTime(lies, pitch, pitch, seconds))
    // A tune that leaps farther than a hand can is played alone there.
    const isLate =
      lies !== undefined && reached.some(({ pitch, isKept }) => isKept && !isInTime(lies!, pitch, pitch, seconds))
    const struck = isLate ? reached.filter(({ isKept }) => isKept) : reached
    first = next
    if (struck.length === 0) continue
    kept.push(...struck)
    const pitches = struck.map(({ pitch }) => pitch)
    lies = { ...overOctave(lies, Math.min(...pitches), Math.max(...pitches)), at }
  }
  return kept
}

/**
 * Without crossings: what the left hand strikes or holds lies below everything of the right hand's. The tune stays, and
 * of others what is struck rather than what is held.
 */
function uncrossed<Key extends HandKey>(notes: readonly Key[]): Key[] {
  const kept: Key[] = []
  let held: number[] = []
  for (let first = 0; first < notes.length;) {
    let next = first + 1
    while (next < notes.length && notes[next]!.onset === notes[first]!.onset) next++
    const at = notes[first]!.onset
    held = held.filter(index => kept[index]!.end > at)
    const struck = notes
      .slice(first, next)
      .sort(
        (a, b) =>
          Number(b.isKept ?? false) - Number(a.isKept ?? false) || (a.hand === b.hand ? 0 : a.hand === 'left' ? -1 : 1),
      )
    for (const one of struck) {
      const isCrossed = (other: Key) =>
        other.hand !== one.hand && (one.hand === 'left' ? other.pitch <= one.pitch : other.pitch >= one.pitch)
      const against = held.filter(index => isCrossed(kept[index]!))
      // Against the tune, or something that is struck with it, it is not played; what else is in its way is let go.
      if (against.some(index => (kept[index]!.isKept && !one.isKept) || kept[index]!.onset === at)) continue
      for (const index of against) kept[index] = { ...kept[index]!, end: at }
      held = held.filter(index => !against.includes(index))
      held.push(kept.push(one) - 1)
    }
    first = next
  }
  return kept.filter(({ onset, end }) => end > onset)
}
