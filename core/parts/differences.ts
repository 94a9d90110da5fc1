import { barAt, positionIn, type Arrangement, type Note } from '../music/arrangement'
import { spellInKey } from '../music/pitch'
import { add, compare, equal, subtract, ZERO, type Quarters } from '../music/quarters'
import { keyOf, type HandPart, type Placed } from './hand-part'

/**
 * One difference to the earlier part: what is struck here and there at that place, spelled; empty for nothing. `held`:
 * the same keys, but longer or shorter; `place`: at the last notes of the part, or behind them.
 */
export interface Difference {
  bar: number
  beat: number
  here: string[]
  there: string[]
  held?: 'longer' | 'shorter'
  place?: 'last' | 'behind'
}

/**
 * How an earlier part is laid beside this one: its notes are earlier by this time, from its line, and moved by this
 * many half steps.
 */
export interface Laid {
  shift: Quarters
  by: number
}
export const PLAINLY: Laid = { shift: ZERO, by: 0 }

/** A place at which two parts do not strike the same, and the notes that only one of them has there. */
interface DifferingPlace {
  place: Quarters
  onlyHere: Note[]
  onlyThere: Note[]
}

/**
 * How many notes differ between two parts laid beside each other. What the earlier one has outside the stretch that
 * this one covers does not count.
 */
export const differingNotes = (here: HandPart, there: HandPart, laid: Laid): number =>
  differingPlaces(here, there, laid).reduce((sum, one) => sum + Math.max(one.onlyHere.length, one.onlyThere.length), 0)

/**
 * The stretch of the earlier part that is laid beside this one, from its own line; undefined where that is all of it.
 */
export function coveredStretch(
  here: HandPart,
  there: HandPart,
  { shift }: Laid,
): { from: Quarters; to: Quarters } | undefined {
  const [from, to] = [add(here.from, shift), add(here.to, shift)]
  if (compare(from, there.from) <= 0 && compare(to, there.to) >= 0) return undefined
  return { from: compare(from, there.from) > 0 ? from : there.from, to: compare(to, there.to) < 0 ? to : there.to }
}

/** Places at which the two parts do not have the same notes, with what is only here and only there. */
function differingPlaces(here: HandPart, there: HandPart, { shift, by }: Laid): DifferingPlace[] {
  const laid = there.notes
    .map(({ at, note }) => ({ at: subtract(at, shift), note }))
    .filter(({ at }) => compare(at, here.from) >= 0 && compare(at, here.to) < 0)
  const [own, other] = [byPlace(here.notes), byPlace(laid)]
  const places = [...new Map([...here.notes, ...laid].map(one => [keyOf(one.at), one.at])).values()].sort(compare)
  return places.flatMap(place => {
    const [now, then] = [own.get(keyOf(place)) ?? [], other.get(keyOf(place)) ?? []]
    const isIn = (list: readonly Note[], note: Note, moved: number) =>
      list.some(twin => twin.pitch === note.pitch + moved && equal(twin.duration, note.duration))
    const onlyHere = now.filter(note => !isIn(then, note, -by))
    const onlyThere = then.filter(note => !isIn(now, note, by))
    return onlyHere.length + onlyThere.length === 0 ? [] : [{ place, onlyHere, onlyThere }]
  })
}

/** Every difference, in order; where the earlier part is moved, `there` is what would stand here. */
export function differencesOf(arrangement: Arrangement, here: HandPart, there: HandPart, laid: Laid): Difference[] {
  const last = here.notes.at(-1)!.at
  return differingPlaces(here, there, laid).map(({ place, onlyHere, onlyThere }): Difference => {
    const onset = add(here.line, place)
    const inBar = barAt(arrangement, onset)
    const { bar, beat } = positionIn(inBar, onset)
    const [held, order] = [lengthOnly(onlyHere, onlyThere, laid.by), compare(place, last)]
    return {
      bar,
      beat: Math.round(beat * 1e4) / 1e4,
      here: onlyHere.map(note => note.spelled),
      there: onlyThere.map(note => (laid.by === 0 ? note.spelled : spellInKey(note.pitch + laid.by, inBar.fifths))),
      ...(held && { held }),
      ...(order >= 0 && { place: order === 0 ? 'last' : 'behind' }),
    }
  })
}

function byPlace(notes: readonly Placed[]): Map<string, Note[]> {
  const places = new Map<string, Note[]>()
  for (const { at, note } of notes) {
    const group = places.get(keyOf(at))
    if (group) group.push(note)
    else places.set(keyOf(at), [note])
  }
  return places
}

/** The same keys on both sides, held longer or shorter here. */
function lengthOnly(here: readonly Note[], there: readonly Note[], by: number): 'longer' | 'shorter' | undefined {
  if (
    here.length === 0 ||
    here.length !== there.length ||
    here.some((note, index) => note.pitch !== there[index]!.pitch + by)
  )
    return undefined
  return compare(here[0]!.duration, there[0]!.duration) > 0 ? 'longer' : 'shorter'
}
