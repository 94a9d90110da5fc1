import { max, sum } from 'd3-array'

/** The size of an engraved bar in staff spaces: across, and above and below the lines of its system. */
export interface BarSize {
  width: number
  above: number
  below: number
  /** From the system's top line to its bottom line. */
  lines: number
  /** Clefs and key, where it begins a row. */
  lead: number
}

/**
 * A staff space, the height of a notehead, in CSS pixels: never smaller than `leastPx`, up to `mostPx` where there is
 * room.
 */
export interface NotationSize {
  leastPx: number
  mostPx: number
}

/**
 * The room for rows of bars on a page; `besideRowPx`: what each row needs under its notation at a given staff space.
 */
export interface PageRoom {
  widthPx: number
  heightPx: number
  besideRowPx: (spacePx: number) => number
}

/** A row on a page: indices into the bars that were laid out. */
export interface PageRow {
  bars: readonly number[]
  heightPx: number
  /** Smaller than the page's where a bar would not fit otherwise. */
  spacePx: number
}

export interface PageLayout {
  spacePx: number
  /** How wide the rows are drawn: no wider than the music can fill. */
  widthPx: number
  rows: readonly PageRow[]
  /**
   * Rows on the page at once; the page turns when there are more. A row alone also shows the first bar of the next one.
   */
  rowsAtOnce: number
}

/** How much narrower and wider than its natural width notation may be set and still read well. */
const SQUEEZED = 0.88
const STRETCHED = 1.9
/** Ratio between sizes tried. */
const STEP = 0.97
/** Of rows that share a turning page, the share that may be taller than its place and is drawn a little smaller. */
const TALL_SHARE = 0.15

/**
 * Lays bars out in rows on a page: notes as large as the room allows within the size range, rows as even as possible.
 * Where they do not all fit at the smallest size, the page holds as many rows as fit, and turns. `groups`: bars (in
 * playing order) that begin a row of their own.
 */
export function layOutPage(
  bars: readonly BarSize[],
  groups: readonly (readonly number[])[],
  room: PageRoom,
  { leastPx, mostPx }: NotationSize,
): PageLayout {
  const whole = largest(
    mostPx,
    leastPx,
    spacePx => rowsAt(bars, groups, room, spacePx),
    rows => (sum(rows, row => row.heightPx) ?? 0) <= room.heightPx,
  )
  if (whole)
    return { ...whole, widthPx: usedWidth(bars, whole.rows, room, whole.spacePx), rowsAtOnce: whole.rows.length }
  const together = rowsAt(bars, groups, room, leastPx)
  const rowsAtOnce = Math.max(1, Math.min(together.length, Math.floor(room.heightPx / usualHeight(together))))
  const isAlone = rowsAtOnce === 1
  const turning = largest(
    mostPx,
    leastPx,
    spacePx => rowsAt(bars, groups, room, spacePx, isAlone),
    rows => rowsAtOnce * usualHeight(rows) <= room.heightPx,
  )
  const { spacePx, rows } = turning ?? { spacePx: leastPx, rows: rowsAt(bars, groups, room, leastPx, isAlone) }
  const heightPx = room.heightPx / rowsAtOnce
  return {
    spacePx,
    widthPx: room.widthPx,
    rowsAtOnce,
    rows: rows.map(row => ({ ...row, heightPx, spacePx: Math.min(row.spacePx, spaceFor(bars, row, room, heightPx)) })),
  }
}

/** The largest size at which the rows fit; undefined where none does. */
function largest(
  mostPx: number,
  leastPx: number,
  rowsFor: (spacePx: number) => PageRow[],
  fits: (rows: PageRow[]) => boolean,
): { spacePx: number; rows: PageRow[] } | undefined {
  for (let spacePx = mostPx; spacePx > leastPx * STEP; spacePx *= STEP) {
    const at = Math.max(spacePx, leastPx)
    const rows = rowsFor(at)
    if (fits(rows)) return { spacePx: at, rows }
  }
  return undefined
}

function usualHeight(rows: readonly PageRow[]): number {
  const heights = rows.map(row => row.heightPx).sort((a, b) => a - b)
  return heights[Math.floor((1 - TALL_SHARE) * (heights.length - 1))] ?? 0
}

function rowsAt(
  bars: readonly BarSize[],
  groups: readonly (readonly number[])[],
  room: PageRoom,
  spacePx: number,
  isAlone = false,
): PageRow[] {
  return groups
    .flatMap(group => evenly(bars, group, room.widthPx / spacePx, isAlone))
    .map((row): PageRow => {
      const ownPx = Math.min(spacePx, room.widthPx / (SQUEEZED * widthOf(bars, row)))
      return { bars: row, heightPx: heightOf(bars, row) * ownPx + room.besideRowPx(ownPx), spacePx: ownPx }
    })
}

const widthOf = (bars: readonly BarSize[], row: readonly number[]): number =>
  bars[row[0]!]!.lead + sum(row, index => bars[index]!.width)
const heightOf = (bars: readonly BarSize[], row: readonly number[]): number =>
  max(row, index => bars[index]!.above)! +
  max(row, index => bars[index]!.lines)! +
  max(row, index => bars[index]!.below)!

/** The size at which a row fits into a height. */
function spaceFor(bars: readonly BarSize[], { bars: row }: PageRow, room: PageRoom, heightPx: number): number {
  return Math.max(1, (heightPx - room.besideRowPx(heightPx / heightOf(bars, row))) / heightOf(bars, row))
}

function usedWidth(bars: readonly BarSize[], rows: readonly PageRow[], room: PageRoom, spacePx: number): number {
  return Math.min(room.widthPx, STRETCHED * spacePx * Math.max(...rows.map(row => widthOf(bars, row.bars))))
}

/**
 * As few rows as hold the bars in a width (staff spaces), the widest of them as narrow as possible. A bar too wide for
 * a row has one of its own. `isAlone`: with room for the next bar.
 */
function evenly(bars: readonly BarSize[], group: readonly number[], width: number, isAlone: boolean): number[][] {
  const count = filled(bars, group, width / SQUEEZED, isAlone).length
  let [narrow, wide] = [0, width / SQUEEZED]
  // Bisection until rows differ by less than a staff space.
  while (wide - narrow > 1) {
    const middle = (narrow + wide) / 2
    if (filled(bars, group, middle, isAlone).length <= count) wide = middle
    else narrow = middle
  }
  return filled(bars, group, wide, isAlone)
}

function filled(bars: readonly BarSize[], group: readonly number[], width: number, isAlone: boolean): number[][] {
  const rows: number[][] = []
  let room = 0
  for (const [place, index] of group.entries()) {
    const { width: own, lead } = bars[index]!
    const ahead = isAlone ? bars[group[place + 1] ?? index]!.width : 0
    if (rows.length === 0 || own + ahead > room) {
      rows.push([index])
      room = width - lead - own
    } else {
      rows.at(-1)!.push(index)
      room -= own
    }
  }
  return rows
}
