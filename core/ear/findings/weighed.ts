import type { Finding, Place } from '../finding'
import { placeOf, type HeardNote } from '../heard'

/**
 * A finding and the benefit of fixing it, on a scale where one wrong note is 10 (own choice, tuned on planted
 * findings).
 */
export interface WeightedFinding {
  finding: Finding
  weight: number
}

/** A weight that grows with `excess` (1: at the tolerance) and levels off. */
export const weigh = (base: number, excess: number, most: number): number =>
  Math.min(most, base + 2 * Math.max(0, excess - 1))

/** More places than this are not listed one by one. */
const MAX_PLACES = 40

/** The places of some notes in order, as findings carry them; the first is the one named. */
export function atPlaces(notes: readonly HeardNote[]): Place & { count: number; places: Place[] } {
  const places = notes.map(note => placeOf(note.written))
  return { ...places[0]!, count: places.length, places: places.slice(0, MAX_PLACES) }
}

/** The printed numbers of the first and last bar among some notes. */
export function barNumbersOf(notes: readonly HeardNote[]): { fromBar: number; toBar: number } {
  const bars = notes.map(note => note.written.bar)
  return { fromBar: Math.min(...bars), toBar: Math.max(...bars) }
}
