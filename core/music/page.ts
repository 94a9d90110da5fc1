import { max, sum } from 'd3-array'

/**
 * What a written bar takes up once it is engraved, in staff spaces: across, and over and under the lines of its system.
 */
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
 * A staff space, which is the height of a notehead, in CSS pixels: never smaller than `leastPx`, where a page has the
 * room up to `mostPx`.
 */
export interface NotationSize {
  leastPx: number
  mostPx: number
}

/**
 * The room there is on a page for rows of bars; `besideRowPx` is what each row needs under its notation, at a staff
 * space.
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
   * So many rows stand on the page at once; the page turns where there are more. Where it is one alone, each shows the
   * first bar of the next one too.
   */
  rowsAtOnce: number
}

/** Notation may be set this much narrower than it would be set freely, and this much wider, before it reads badly. */
const SQUEEZED = 0.88
const STRETCHED = 1.9
/** From one size tried to the next. */
const STEP = 0.97
/**
 * Of rows that share a page while it turns, one in so many may be taller than its place; it is drawn a little smaller.
 */
const TALL_SHARE = 0.15

/**
 * Lays bars out in rows on a page: the notes as large as the room allows within a size, the rows as even as can be.
 * Where they do not all fit at the least size, as many rows stand on the page as fit, and it turns. `groups`: bars (in
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

/** The largest size at which rows pass; undefined where none does. */
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
 * As few rows as hold the bars in a width (staff spaces), the widest of them as narrow as can be. A bar too wide for a
 * row has one of its own. `isAlone`: with room for the bar that comes next.
 */
function evenly(bars: readonly BarSize[], group: readonly number[], width: number, isAlone: boolean): number[][] {
  const count = filled(bars, group, width / SQUEEZED, isAlone).length
  let [narrow, wide] = [0, width / SQUEEZED]
  // Halving the interval until rows differ by less than a staff space.
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
