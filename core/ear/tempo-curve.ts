import { tempoAt, type Arrangement } from '../music/arrangement'
import type { Quarters } from '../music/quarters'
import { round } from './assessment-request'
import type { HeardNote } from './heard'
import type { Point } from './statistics'

/** Nothing is played faster than so many times its tempo. */
const FASTEST = 12

/**
 * The tempo of a bar as it was played, quarter notes a minute; bars by their printed numbers, in the order in which
 * they were played.
 */
export interface BarTempo {
  bar: number
  bpm: number
}

/**
 * The player's own tempo, bar after bar, from what was struck: how long it took from the first stroke of a bar to the
 * first of the next one, against what the score would have it (`scale`: at so many times its tempo); in the last bar to
 * its last stroke. A hesitation makes its bar slow. Bars of which nothing was struck are left out.
 */
export function tempoCurve(arrangement: Arrangement, notes: readonly HeardNote[], scale: number): BarTempo[] {
  const bars: { name: string; bar: number; start: Quarters; strokes: Point[] }[] = []
  for (const { written, stroke } of notes) {
    if (!stroke || written.grace) continue
    const name = `${written.barIndex} ${written.time}`
    if (bars.at(-1)?.name !== name)
      bars.push({ name, bar: written.bar, start: arrangement.bars[written.barIndex]!.start, strokes: [] })
    bars.at(-1)!.strokes.push([written.momentMs, stroke.onsetMs])
  }
  return bars.flatMap(({ bar, start, strokes }, index) => {
    const [first, last] = [strokes[0]!, bars[index + 1]?.strokes[0] ?? strokes.at(-1)!]
    const [writtenMs, playedMs] = [last[0] - first[0], last[1] - first[1]]
    // What was struck all at once, in search of the notes, has no tempo.
    return writtenMs > 0 && playedMs > writtenMs / FASTEST
      ? [{ bar, bpm: round((tempoAt(arrangement, start) * scale * writtenMs) / playedMs, 1) }]
      : []
  })
}
