import { TABLE_REACH } from './ergonomics'

/** A key that a hand holds, in any one unit of time. `isKept`: it is struck whatever it costs (a melody, a bass). */
export interface HeldKey {
  onset: number
  end: number
  pitch: number
  isKept?: boolean
}

/**
 * What one hand holds at once: so many keys, as wide as its reach, half steps (the common hand of the fingering's table
 * where none is given).
 */
export interface Hold {
  readonly keys: number
  readonly reach: number
}
export const FULL_HOLD: Hold = { keys: 5, reach: TABLE_REACH }

/**
 * What of one hand's notes it can hold, in their order (by onset): of notes struck together the one that is kept, else
 * the outer one (`from`: the lowest of a left hand, the highest of a right), and those nearest to it; a key held from
 * before is let go when what is struck lies beyond reach of it or leaves it no finger. Notes that are shortened are
 * new; those left out are not there.
 */
export function withinHold<Key extends HeldKey>(
  notes: readonly Key[],
  from: 'lowest' | 'highest',
  hold = FULL_HOLD,
): Key[] {
  const outward = from === 'lowest' ? 1 : -1
  const kept: Key[] = []
  let held: number[] = []
  for (let first = 0; first < notes.length;) {
    const at = notes[first]!.onset
    let next = first + 1
    while (next < notes.length && notes[next]!.onset - at < SAME_MOMENT) next++
    const struck = notes
      .slice(first, next)
      .sort((a, b) => Number(b.isKept ?? false) - Number(a.isKept ?? false) || outward * (a.pitch - b.pitch))
    const taken: Key[] = []
    for (const one of struck)
      if (
        taken.length < hold.keys &&
        taken.every(other => Math.abs(other.pitch - one.pitch) <= hold.reach && other.pitch !== one.pitch)
      )
        taken.push(one)
    held = held.filter(index => kept[index]!.end > at + SAME_MOMENT)
    const beyond = held.filter(index =>
      taken.some(({ pitch }) => pitch === kept[index]!.pitch || Math.abs(pitch - kept[index]!.pitch) > hold.reach),
    )
    const still = held.filter(index => !beyond.includes(index))
    // The longest held is let go first.
    const most = Math.max(0, hold.keys - taken.length)
    for (const index of [...beyond, ...still.slice(0, still.length - most)]) kept[index] = { ...kept[index]!, end: at }
    held = still.slice(Math.max(0, still.length - most))
    for (const one of taken.sort((a, b) => a.pitch - b.pitch)) held.push(kept.push(one) - 1)
    first = next
  }
  return kept
}

/** Onsets nearer than this are one moment, in any unit. */
const SAME_MOMENT = 1e-6
