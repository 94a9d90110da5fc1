import type { Arrangement } from '#core/music/arrangement'
import { beatLength, pulses } from '#core/music/meter'
import { add, compare, multiply, quarters, subtract, toDecimal, type Quarters } from '#core/music/quarters'

/** A bar as it is drawn in a row, pixels of the page's window. */
export interface BarPlace {
  bar: number
  left: number
  right: number
  top: number
  bottom: number
  element: Element
}

/** Bars are told apart a little over and under their lines too. */
const AROUND_PX = 24
/** A line before a notehead stands so far to its left. */
const BEFORE_PX = 7

/** Where the bars of a drawn row lie. `firstBar`: the index of its first one. */
export function barPlaces(row: Element, firstBar: number): BarPlace[] {
  return [...row.querySelectorAll('.engraving .measure')].flatMap((element, index): BarPlace[] => {
    const staves = [...element.querySelectorAll(':scope > .staff > path')]
      .map(path => path.getBoundingClientRect())
      .filter(box => box.width > 0)
    if (staves.length === 0) return []
    return [
      {
        bar: firstBar + index,
        left: staves[0]!.left,
        right: staves[0]!.right,
        top: Math.min(...staves.map(box => box.top)),
        bottom: Math.max(...staves.map(box => box.bottom)),
        element,
      },
    ]
  })
}

/** The bar that a pointer means, among those of all rows. */
export function barUnder(
  places: readonly BarPlace[],
  { clientX, clientY }: { clientX: number; clientY: number },
): BarPlace | undefined {
  const inRow = places.filter(place => clientY >= place.top - AROUND_PX && clientY <= place.bottom + AROUND_PX)
  return inRow.find(place => clientX >= place.left && clientX <= place.right)
}

/**
 * Where a moment of a bar lies in its drawing: before the first note that is struck there or after it, at its end where
 * none is.
 */
export function placeOfMoment(arrangement: Arrangement, place: BarPlace, at: Quarters): number {
  const bar = arrangement.bars[place.bar]!
  if (compare(at, bar.start) <= 0) return place.left
  const note =
    compare(at, add(bar.start, bar.length)) >= 0
      ? undefined
      : arrangement.notes.find(one => one.barIndex === place.bar && !one.grace && compare(one.onset, at) >= 0)
  const head = note && place.element.querySelector(`[id="${CSS.escape(note.id)}"] .notehead`)
  return head ? head.getBoundingClientRect().left - BEFORE_PX : place.right
}

/** The beats of the drawn bars and their ends, each with where it lies. */
export function beatPlaces(
  arrangement: Arrangement,
  places: readonly BarPlace[],
): { at: Quarters; x: number; top: number; bottom: number }[] {
  return places.flatMap(place => {
    const bar = arrangement.bars[place.bar]!
    const beat = beatLength(bar.meter)
    const beats = pulses(bar.meter)
      .map(pulse => add(subtract(bar.start, bar.offset), multiply(quarters(pulse), beat)))
      .filter(at => compare(at, bar.start) >= 0 && toDecimal(at) < toDecimal(add(bar.start, bar.length)) - 1e-6)
    const { top, bottom } = place
    return [
      ...beats.map(at => ({ at, x: placeOfMoment(arrangement, place, at), top, bottom })),
      { at: add(bar.start, bar.length), x: place.right, top, bottom },
    ]
  })
}
