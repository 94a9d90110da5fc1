import { barAt, type Arrangement, type Bar } from './arrangement'
import { passageClock, type Passage, type Stretch } from './passage'
import { compare, earlier, later, type Quarters } from './quarters'

/** A few bars in a line, as they come in playing order: what the player looks at for a while. */
export interface Row {
  /** The written bars it shows. */
  stretch: Stretch
  /** When it is played, ms from the passage's beginning. */
  fromMs: number
  toMs: number
}

/**
 * A passage in rows of at most `most` bars, nearly even. A new one begins where the music jumps, and where one of `breaks` lies (beginnings of
 * parts). `bpm`: quarter notes a minute.
 */
export function rowsOf(arrangement: Arrangement, passage: Passage, bpm: number, breaks: readonly Quarters[] = [], most = 4): Row[] {
  const clock = passageClock(arrangement, passage, bpm)
  return passage.stretches.flatMap((stretch, index) => {
    const bars = arrangement.bars.filter(bar => compare(bar.start, barAt(arrangement, stretch.from).start) >= 0 && compare(bar.start, stretch.to) < 0)
    return sections(bars, breaks).flatMap(section => evenly(section, most)).map((row, place, rows): Row => {
      const from = later(stretch.from, row[0]!.start)
      const to = rows[place + 1] ? rows[place + 1]![0]!.start : stretch.to
      return { stretch: { from, to: earlier(to, stretch.to) }, fromMs: clock.msAt(index, from), toMs: clock.msAt(index, to) }
    })
  })
}

/** The row that is played at a moment; the first one before the passage has begun. */
export const rowAt = (rows: readonly Row[], atMs: number): number => Math.max(0, rows.findLastIndex(row => atMs >= row.fromMs - NEARLY_MS))

const NEARLY_MS = 1

/** Bars from one break to the next; a break inside a bar (a pickup) begins the next one. */
function sections(bars: readonly Bar[], breaks: readonly Quarters[]): Bar[][] {
  const found: Bar[][] = []
  for (const [index, bar] of bars.entries()) {
    const before = bars[index - 1]
    const isBreak = !before || breaks.some(at => compare(at, bar.start) <= 0 && compare(at, before.start) > 0)
    // A pickup is no row of its own.
    if (isBreak && !(before && index === 1 && before.offset.n > 0)) found.push([bar])
    else found.at(-1)!.push(bar)
  }
  return found
}

function evenly(bars: readonly Bar[], most: number): Bar[][] {
  const pickup = bars[0]!.offset.n > 0 ? 1 : 0
  const count = Math.max(1, Math.ceil((bars.length - pickup) / most))
  const edges = Array.from({ length: count + 1 }, (_, row) => row === 0 ? 0 : pickup + Math.round(row * (bars.length - pickup) / count))
  return edges.slice(1).map((to, row) => bars.slice(edges[row], to))
}
