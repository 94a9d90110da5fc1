import { mean, median } from 'simple-statistics'
import type { MidiPitch } from '../music/pitch'

/** What is struck at one moment, in any one unit of time; `longest`: how long the longest of its notes lasts. */
export interface StruckEvent {
  at: number
  pitches: MidiPitch[]
  longest: number
}

/** Own choice: how many moments around one are its surroundings, and what counts how much for standing out. */
const STANDING = { around: 8, harmony: 6, bass: 0.5, long: 0.35, many: 0.05, change: 0.4 } as const

/**
 * Groups notes that begin within `together` of the first of them, and gives the event of each note. `notes` sorted by
 * onset.
 */
export function groupStrokes(
  notes: readonly { onset: number; end: number; pitch: MidiPitch }[],
  together: number,
): { moments: StruckEvent[]; momentOf: number[] } {
  const moments: StruckEvent[] = []
  const momentOf = notes.map(({ onset, end, pitch }) => {
    if (moments.length === 0 || onset - moments.at(-1)!.at > together)
      moments.push({ at: onset, pitches: [], longest: 0 })
    const last = moments.at(-1)!
    last.pitches.push(pitch)
    last.longest = Math.max(last.longest, end - onset)
    return moments.length - 1
  })
  return { moments, momentOf }
}

/**
 * How much each event stands out, 0 to 1: by a low note, a long one, many at once, and by other notes than before
 * (common practice of what is heard as a strong beat).
 */
export function standingOut(moments: readonly StruckEvent[]): number[] {
  const lows = moments.map(({ pitches }) => Math.min(...pitches))
  const counts = moments.map(({ pitches }) => pitches.length)
  const usual = moments.length > 0 ? Math.max(1e-6, median(moments.map(moment => moment.longest))) : 1
  const share = (value: number) => Math.min(1, Math.max(0, value))
  return moments.map(({ longest }, index) => {
    const [from, to] = [Math.max(0, index - STANDING.around), Math.min(moments.length, index + STANDING.around + 1)]
    const bass = share((mean(lows.slice(from, to)) - lows[index]!) / 12)
    const many = share((counts[index]! - mean(counts.slice(from, to))) / 3)
    const long = share(Math.log2(Math.max(1, longest / usual)) / 2)
    return share(
      STANDING.bass * bass +
        STANDING.long * long +
        STANDING.many * many +
        STANDING.change * harmonyChange(moments, index),
    )
  })
}

/** How different the pitch classes from an event on are from those before: 0 for the same, 1 for none in common. */
function harmonyChange(moments: readonly StruckEvent[], index: number): number {
  const before = classesOf(moments.slice(Math.max(0, index - STANDING.harmony), index))
  const after = classesOf(moments.slice(index, index + STANDING.harmony))
  const dot = before.reduce((all, one, place) => all + one * after[place]!, 0)
  const size = Math.hypot(...before) * Math.hypot(...after)
  return size === 0 ? 0 : 1 - dot / size
}

function classesOf(moments: readonly StruckEvent[]): number[] {
  const counts = Array.from({ length: 12 }, () => 0)
  for (const { pitches } of moments) for (const pitch of pitches) counts[pitch % 12]!++
  return counts
}
