import type { ScoreEvent } from './score-events'

/** For each event the set of its keys as 128 bits. */
export function keySets(events: readonly ScoreEvent[], keysOf: (event: ScoreEvent) => readonly number[]): Int32Array {
  const sets = new Int32Array(4 * events.length)
  events.forEach((event, place) => {
    for (const key of keysOf(event)) if (key >= 0 && key < 128) sets[4 * place + (key >> 5)]! |= 1 << (key & 31)
  })
  return sets
}

export const keySetHas = (sets: Int32Array, event: number, key: number): boolean =>
  ((sets[4 * event + (key >> 5)]! >> (key & 31)) & 1) === 1

/** For each key, the events that contain it, ascending. */
export function indexByKey(events: readonly ScoreEvent[]): Map<number, number[]> {
  const index = new Map<number, number[]>()
  events.forEach(({ pitches }, event) => {
    for (const pitch of new Set(pitches)) {
      const places = index.get(pitch)
      if (places) places.push(event)
      else index.set(pitch, [event])
    }
  })
  return index
}

export function countBits(bits: number): number {
  let count = 0
  for (let rest = bits; rest !== 0; rest &= rest - 1) count++
  return count
}
