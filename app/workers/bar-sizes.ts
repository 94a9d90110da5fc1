import type { BarSize } from '#core/music/page'

/** The engraver's own units in a staff space. */
export const UNITS_A_SPACE = 180
/** A staff of five lines. */
const STAFF = 4 * UNITS_A_SPACE
/** Most signs reach no further up or down from the point they are placed at. */
const SIGN = UNITS_A_SPACE
/** What stands at the beginning of a row, in spaces: the clef with the room around it, and each sign of the key. */
const CLEF_SPACES = 4.7

/**
 * How much room each bar of a row takes that was engraved as wide as it wants to be. `svg`: the engraver's text;
 * `fifths`: the key signature at its beginning.
 */
export function barSizes(svg: string, fifths: number): BarSize[] {
  const bars = svg.split('class="measure"').slice(1)
  const height = Number(/viewBox="0 0 \d+ (\d+)" /.exec(svg.slice(svg.indexOf('definition-scale')))?.[1] ?? Infinity)
  const lead = CLEF_SPACES + Math.abs(fifths)
  return bars.map((bar, index): BarSize => {
    const staves = [...bar.matchAll(/class="staff"[^>]*>\s*<path d="M(-?\d+) (-?\d+) L(-?\d+)/g)].map(
      ([, from, top, to]) => ({ width: Number(to) - Number(from), top: Number(top) }),
    )
    const first = staves[0] ?? { width: 0, top: 0 }
    const bottom = (staves.at(-1)?.top ?? 0) + STAFF
    const [highest, lowest] = reach(bar, height)
    return {
      width: first.width / UNITS_A_SPACE - (index === 0 ? lead : 0),
      lead,
      above: Math.max(0, first.top - highest) / UNITS_A_SPACE,
      lines: (bottom - first.top) / UNITS_A_SPACE,
      below: Math.max(0, lowest - bottom) / UNITS_A_SPACE,
    }
  })
}

/** The highest and lowest moment of a bar's ink, within the page. */
function reach(bar: string, height: number): [number, number] {
  let [highest, lowest] = [height, 0]
  const ink = (y: number, around = 0) => {
    highest = Math.min(highest, Math.max(0, y - around))
    lowest = Math.max(lowest, Math.min(height, y + around))
  }
  for (const [, y] of bar.matchAll(/translate\(-?\d+, (-?\d+)\)/g)) ink(Number(y), SIGN)
  for (const [, y] of bar.matchAll(/<text[^>]*\sy="(-?\d+)"/g)) ink(Number(y), SIGN)
  for (const [, points] of bar.matchAll(/<(?:polygon|polyline)[^>]*points="([^"]*)"/g))
    for (const [, y] of points!.matchAll(/,(-?\d+)/g)) ink(Number(y))
  for (const [, path] of bar.matchAll(/<path[^>]*\sd="([^"]*)"/g))
    for (const [, y] of path!.matchAll(/-?\d+[ ,](-?\d+)/g)) ink(Number(y))
  return [highest, lowest]
}
