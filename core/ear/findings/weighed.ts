import type { Finding, Place } from '../finding'
import { placeOf, type HeardNote } from '../heard'

/**
 * A finding and what fixing it would bring, on a scale on which one wrong note is 10 (own choice, tuned on planted
 * findings).
 */
export interface Weighed {
  finding: Finding
  weight: number
}

/** A weight that grows with `excess` (1: at the tolerance) and levels off. */
export const weigh = (base: number, excess: number, most: number): number =>
  Math.min(most, base + 2 * Math.max(0, excess - 1))

/** More places than this are not told one by one. */
const MOST_PLACES = 40

/** The places of some notes in their order, as findings carry them: the first of them is the one that is named. */
export function atPlaces(notes: readonly HeardNote[]): Place & { count: number; places: Place[] } {
  const places = notes.map(note => placeOf(note.written))
  return { ...places[0]!, count: places.length, places: places.slice(0, MOST_PLACES) }
}

/** The printed numbers of the first and last bar among some notes. */
export function barsOf(notes: readonly HeardNote[]): { fromBar: number; toBar: number } {
  const bars = notes.map(note => note.written.bar)
  return { fromBar: Math.min(...bars), toBar: Math.max(...bars) }
}
