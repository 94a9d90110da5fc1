import { bisector } from 'd3-array'
import { dueMarks } from '../../music/passage'
import type { Heard, HeardEvent } from '../heard'
import type { TakePedal } from '../take'

/**
 * How the pedal came up where the harmony changes: + behind it, − before it, ms; `held` when it did not come up at all.
 */
export interface PedalChange {
  bar: number
  beat: number
  ms: number
  held: boolean
}

/**
 * A pedal lift this long before or after a change of harmony belongs to it: a share of the way to the neighbouring
 * change, and ms.
 */
const REACH_MS = 700

const byEventTime = bisector((event: HeardEvent) => event.atMs)
const pedalBy = bisector((pedal: TakePedal) => pedal.atMs)

/**
 * Pedal changes against harmony. Where the score has pedal marks these say when; otherwise its chord symbols, where the
 * chord changes. In syncopated pedalling (common practice) the pedal comes up as the new chord goes down. Nothing for a
 * take without pedal.
 */
export function pedalChanges({ arrangement, passage, take, bpm, events }: Heard): PedalChange[] {
  if (take.pedals.length === 0) return []
  const written = dueMarks(arrangement, passage, arrangement.pedals, bpm).filter(mark => mark.kind !== 'down')
  const symbols = dueMarks(arrangement, passage, arrangement.chords, bpm).filter(
    (chord, index, all) => index > 0 && chord.symbol !== all[index - 1]!.symbol,
  )
  const asked = written.length > 0 ? written : symbols
  return asked.flatMap(({ atMs, bar, beat }, index): PedalChange[] => {
    // The event as played; without one, as it was due.
    const near = events[byEventTime.center(events, atMs)]
    if (!near) return []
    const at = near.dueMs + near.deviationMs + (atMs - near.atMs) * near.notes[0]!.ratio
    const gap =
      (Math.min(atMs - (asked[index - 1]?.atMs ?? -Infinity), (asked[index + 1]?.atMs ?? Infinity) - atMs) / 2) *
      near.notes[0]!.ratio
    const reach = Math.min(REACH_MS, gap)
    const first = pedalBy.left(take.pedals, at - reach)
    const lifts = take.pedals.slice(first, pedalBy.right(take.pedals, at + reach)).filter(pedal => !pedal.down)
    const lift = lifts.reduce<number | undefined>(
      (best, one) => (best === undefined || Math.abs(one.atMs - at) < Math.abs(best - at) ? one.atMs : best),
      undefined,
    )
    if (lift !== undefined) return [{ bar, beat, ms: lift - at, held: false }]
    const before = take.pedals[pedalBy.right(take.pedals, at) - 1]
    return before?.down ? [{ bar, beat, ms: reach, held: true }] : []
  })
}
