import type { BarTempo } from './assessment'
import { tempoAt, type Arrangement } from '../music/arrangement'
import type { Quarters } from '../music/quarters'
import type { HeardNote } from './heard'
import { type Point, roundTo } from './statistics'

/** Nothing is played faster than this multiple of its tempo. */
const FASTEST = 12

/**
 * The player's tempo bar by bar: from the first stroke of a bar to the first of the next, against the score (`scale`
 * multiplies its tempo); in the last bar to its last stroke. A hesitation makes its bar slow. Bars without a stroke are
 * left out.
 */
export function tempoCurve(arrangement: Arrangement, notes: readonly HeardNote[], scale: number): BarTempo[] {
  const bars: { name: string; bar: number; start: Quarters; strokes: Point[] }[] = []
  for (const { written, stroke } of notes) {
    if (!stroke || written.grace) continue
    const name = `${written.barIndex} ${written.time}`
    if (bars.at(-1)?.name !== name)
      bars.push({ name, bar: written.bar, start: arrangement.bars[written.barIndex]!.start, strokes: [] })
    bars.at(-1)!.strokes.push([written.eventMs, stroke.onsetMs])
  }
  return bars.flatMap(({ bar, start, strokes }, index) => {
    const [first, last] = [strokes[0]!, bars[index + 1]?.strokes[0] ?? strokes.at(-1)!]
    const [writtenMs, playedMs] = [last[0] - first[0], last[1] - first[1]]
    // Keys struck all at once while searching have no tempo.
    return writtenMs > 0 && playedMs > writtenMs / FASTEST
      ? [{ bar, bpm: roundTo((tempoAt(arrangement, start) * scale * writtenMs) / playedMs, 1) }]
      : []
  })
}
