/** A row of staves as it is drawn, in the sheet's own pixels. */
export interface SystemFrame {
  system: Element
  top: number
  bottom: number
}

/** Where the rows of staves lie on a drawn sheet. */
export function systemFrames(sheet: HTMLElement): SystemFrame[] {
  const origin = sheet.getBoundingClientRect()
  return [...sheet.querySelectorAll('.engraving .system')].map(system => {
    const staves = [...system.querySelectorAll('.staff')].map(staff => staff.getBoundingClientRect())
    return {
      system,
      top: Math.min(...staves.map(box => box.top)) - origin.top,
      bottom: Math.max(...staves.map(box => box.bottom)) - origin.top,
    }
  })
}

/** Room above and below a row that still belongs to it, pixels; beyond it, each pixel counts this many sideways. */
const ROUND_PX = 40
const ROWS_APART = 4

/** Of some places on a sheet the one that a pointer means. */
export function nearestPlace<Place extends { x: number; top: number; bottom: number }>(
  places: readonly Place[],
  sheet: HTMLElement,
  { clientX, clientY }: PointerEvent,
): Place | undefined {
  const origin = sheet.getBoundingClientRect()
  const [x, y] = [clientX - origin.left, clientY - origin.top]
  const away = (place: Place) =>
    Math.abs(place.x - x) + ROWS_APART * Math.max(0, place.top - ROUND_PX - y, y - place.bottom - ROUND_PX)
  return places.reduce(
    (nearest: Place | undefined, place) => (!nearest || away(place) < away(nearest) ? place : nearest),
    undefined,
  )
}

/** Which way an arrow key moves something along a line: 1 forward, -1 back. */
export const ARROW_STEPS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }
