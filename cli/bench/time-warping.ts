/** Two notes as a generic sequence alignment sees them. */
interface Point {
  onsetMs: number
  pitch: number
}

/**
 * The thing to beat: plain dynamic time warping of written and played notes by onset and pitch, without any knowledge
 * of music. Gives for each written note the played one it was warped to (each played note once, the nearest taking it),
 * or null.
 */
export function timeWarping(written: readonly Point[], played: readonly Point[]): (number | null)[] {
  const width = played.length + 1
  const cost = new Float64Array((written.length + 1) * width).fill(Infinity)
  cost[0] = 0
  const distance = (row: number, column: number) =>
    Math.abs(written[row]!.onsetMs - played[column]!.onsetMs) / 1000 +
    Math.abs(written[row]!.pitch - played[column]!.pitch) / 12
  for (let row = 1; row <= written.length; row++) {
    for (let column = 1; column <= played.length; column++) {
      const here = row * width + column
      cost[here] =
        distance(row - 1, column - 1) + Math.min(cost[here - 1]!, cost[here - width]!, cost[here - width - 1]!)
    }
  }
  const pairs: { row: number; column: number; far: number }[] = []
  for (let row = written.length, column = played.length; row > 0 && column > 0;) {
    pairs.push({ row: row - 1, column: column - 1, far: distance(row - 1, column - 1) })
    const here = row * width + column
    const least = Math.min(cost[here - 1]!, cost[here - width]!, cost[here - width - 1]!)
    if (least === cost[here - width - 1]) {
      row--
      column--
    } else if (least === cost[here - width]) row--
    else column--
  }
  const result = new Array<number | null>(written.length).fill(null)
  const taken = new Set<number>()
  for (const { row, column } of pairs.sort((a, b) => a.far - b.far)) {
    if (result[row] !== null || taken.has(column)) continue
    result[row] = column
    taken.add(column)
  }
  return result
}
