import { barAt, type Arrangement, type Bar } from './arrangement'
import { passageClock, type Passage, type ScoreSpan } from './passage'
import { compare, earlier, later, type Quarters } from './quarters'

/** A few bars in a line, as they come in playing order: what the player looks at for a while. */
export interface Row {
  /** The written bars it shows. */
  stretch: ScoreSpan
  /** When it is played, ms from the passage's beginning. */
  fromMs: number
  toMs: number
}

/** Bars that follow each other both on paper and in playing, within one span of a passage. */
export interface BarGroup {
  stretch: number
  bars: readonly Bar[]
}

/**
 * The bars of a passage in playing order; a new group begins where the music jumps, and where one of `breaks` lies
 * (beginnings of parts).
 */
export function barGroups(arrangement: Arrangement, passage: Passage, breaks: readonly Quarters[] = []): BarGroup[] {
  return passage.stretches.flatMap((stretch, index) => {
    const bars = arrangement.bars.filter(
      bar => compare(bar.start, barAt(arrangement, stretch.from).start) >= 0 && compare(bar.start, stretch.to) < 0,
    )
    return sections(bars, breaks).map(section => ({ stretch: index, bars: section }))
  })
}

/** Groups of bars as rows, `sizes` telling how many bars each row has. `bpm`: quarter notes a minute. */
export function rowsOf(
  arrangement: Arrangement,
  passage: Passage,
  bpm: number,
  groups: readonly BarGroup[],
  sizes: readonly number[],
): Row[] {
  const clock = passageClock(arrangement, passage, bpm)
  let next = 0
  return groups.flatMap(({ stretch: index, bars }, place): Row[] => {
    const stretch = passage.stretches[index]!
    const rows: Row[] = []
    for (let at = 0; at < bars.length;) {
      const count = sizes[next++] ?? bars.length
      const [first, after] = [bars[at]!, bars[at + count]]
      const isLast = after === undefined && groups[place + 1]?.stretch !== index
      const end = after?.start ?? (isLast ? stretch.to : groups[place + 1]!.bars[0]!.start)
      const from = later(stretch.from, first.start)
      rows.push({
        stretch: { from, to: earlier(end, stretch.to) },
        fromMs: clock.msAt(index, from),
        toMs: clock.msAt(index, end),
      })
      at += Math.max(1, count)
    }
    return rows
  })
}

/** The row played at a time; the first one before the passage has begun. */
export const rowAt = (rows: readonly Row[], atMs: number): number =>
  Math.max(
    0,
    rows.findLastIndex(row => atMs >= row.fromMs - NEARLY_MS),
  )

const NEARLY_MS = 1

/**
 * Bars from one break to the next; a break inside a bar (a pickup) begins the next one. A bar alone at the beginning or
 * the end, a pickup too, is no section of its own.
 */
function sections(bars: readonly Bar[], breaks: readonly Quarters[]): Bar[][] {
  const found: Bar[][] = []
  for (const [index, bar] of bars.entries()) {
    const before = bars[index - 1]
    if (!before || breaks.some(at => compare(at, bar.start) <= 0 && compare(at, before.start) > 0)) found.push([bar])
    else found.at(-1)!.push(bar)
  }
  if (found.length > 1 && found[0]!.length === 1) found.splice(0, 2, [...found[0]!, ...found[1]!])
  if (found.length > 1 && found.at(-1)!.length === 1) found.splice(-2, 2, [...found.at(-2)!, ...found.at(-1)!])
  return found
}
