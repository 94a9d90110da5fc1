import { WIDTH, type Frames } from './features'

/**
 * A way through two sequences of frames: for each row (of the score) the column (of the recording) it is heard at; and
 * how well they go together, from 0 (the same) upward, in the mean.
 */
export interface Warp {
  columns: Float64Array
  cost: number
}

/** Where the way may go: for each row the first and the last column. */
export interface Band {
  first: Int32Array
  last: Int32Array
}

const HALF = WIDTH / 2
/** How much what begins counts beside what sounds. */
const ONSET_WEIGHT = 0.8
/** What a cell that is passed over in a slanted step counts. */
const PASSED = 1

/**
 * Dynamic time warping (Sakoe and Chiba 1978; Müller 2015, ch. 3; unchecked) of a score's frames against a
 * recording's: all of the score, and of the recording as much as belongs to it: silence and applause around it cost
 * nothing. Of the two neither goes more than twice as fast as the other, so that music is not found in a held tone.
 * Linear in the cells of the band. The cost is Infinity where no way leads through the band.
 */
export function warp(rows: Frames, columns: Frames, band: Band): Warp {
  const width = Int32Array.from(band.first, (first, row) => band.last[row]! - first + 1)
  const starts = new Int32Array(rows.count + 1)
  for (let row = 0; row < rows.count; row++) starts[row + 1] = starts[row]! + width[row]!
  const own = new Float32Array(starts[rows.count]!)
  const total = new Float32Array(own.length).fill(Infinity)
  /**
   * Rows and columns that the step to a cell takes: 0 where it begins, else 1: one and one, 2: one row and two columns,
   * 3: two rows and one column.
   */
  const step = new Uint8Array(own.length)
  const cellAt = (row: number, column: number): number =>
    row < 0 || column < band.first[row]! || column > band.last[row]! ? -1 : starts[row]! + column - band.first[row]!
  for (let row = 0; row < rows.count; row++) {
    for (let column = band.first[row]!; column <= band.last[row]!; column++) {
      const cell = starts[row]! + column - band.first[row]!
      own[cell] = distance(rows, row, columns, column)
      if (row === 0) {
        total[cell] = own[cell]!
        continue
      }
      let least = Infinity
      const consider = (from: number, passed: number, kind: number) => {
        if (from < 0) return
        const cost = total[from]! + (passed < 0 ? 0 : PASSED * own[passed]!)
        if (cost < least) [least, step[cell]] = [cost, kind]
      }
      consider(cellAt(row - 1, column - 1), -1, 1)
      consider(cellAt(row - 1, column - 2), cellAt(row, column - 1), 2)
      consider(cellAt(row - 2, column - 1), cellAt(row - 1, column), 3)
      total[cell] = least + own[cell]!
    }
  }
  const lastRow = rows.count - 1
  let best = starts[lastRow]!
  for (let cell = best; cell < own.length; cell++) if (total[cell]! < total[best]!) best = cell
  const path = new Float64Array(rows.count)
  if (total[best] === Infinity) return { columns: path, cost: Infinity }
  let [row, column, cells] = [lastRow, band.first[lastRow]! + best - starts[lastRow]!, 0]
  while (true) {
    path[row] = column
    cells++
    const kind = step[cellAt(row, column)]!
    if (kind === 0) break
    if (kind > 1) cells++
    // A row that was passed over lies between its neighbours.
    if (kind === 3) path[row - 1] = column - 0.5
    row -= kind === 3 ? 2 : 1
    column -= kind === 2 ? 2 : 1
  }
  return { columns: path, cost: total[best]! / cells }
}

function distance(rows: Frames, row: number, columns: Frames, column: number): number {
  const [a, b] = [row * WIDTH, column * WIDTH]
  let [same, grown] = [0, 0]
  for (let index = 0; index < HALF; index++) {
    same += rows.values[a + index]! * columns.values[b + index]!
    grown += Math.abs(rows.values[a + HALF + index]! - columns.values[b + HALF + index]!)
  }
  return 1 - Math.min(1, same) + ((ONSET_WEIGHT * grown) / HALF) * 3
}

export const everywhere = (rows: number, columns: number): Band => ({
  first: new Int32Array(rows),
  last: new Int32Array(rows).fill(columns - 1),
})

/** A band of columns to both sides of a coarser path, whose frames were means of `many` of these. */
export function around({ columns: path }: Warp, many: number, rows: number, columns: number, reach: number): Band {
  const [first, last] = [new Int32Array(rows), new Int32Array(rows)]
  for (let row = 0; row < rows; row++) {
    const at = Math.min(path.length - 1, row / many)
    const [low, high] = [path[Math.floor(at)]!, path[Math.min(path.length - 1, Math.ceil(at))]!]
    const centre = (low + (high - low) * (at - Math.floor(at)) + 0.5) * many
    first[row] = Math.max(row === 0 ? 0 : first[row - 1]!, Math.min(columns - 1, Math.round(centre - reach)))
    last[row] = Math.min(columns - 1, Math.max(first[row]!, Math.round(centre + reach)))
  }
  return { first, last }
}
