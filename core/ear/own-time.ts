import type { ExpectedNote } from '../music/passage'
import type { MidiPitch } from '../music/pitch'
import { momentsOf, type Moment } from './moments'

/** What a struck key was, in the player's own time. */
export type OwnTimeStroke =
  | { kind: 'right'; moment: number; notes: number[]; completes: boolean }
  /** Not one of the keys that are waited for. */
  | { kind: 'wrong'; moment: number }
  /**
   * A key of this moment struck again, a note of an ornament (this moment's or the one before), or a key after the end.
   */
  | { kind: 'neutral'; moment: number }

export interface Waiting {
  /** The moment that is waited for; the number of moments when all have come. */
  readonly at: () => number
  readonly isOver: () => boolean
  /** The keys still to come at this moment. */
  readonly wanted: () => MidiPitch[]
  readonly hear: (pitch: MidiPitch) => OwnTimeStroke
}

/**
 * Waits at each moment until all its keys have been struck, in any order and as slowly as the player likes, then for
 * the next. A key that both hands have counts for both.
 */
export function waitForKeys(expected: readonly ExpectedNote[]): Waiting & { moments: readonly Moment[] } {
  const moments = momentsOf(expected)
  let at = 0
  let missing = new Set(moments[0]?.notes)
  return {
    moments,
    at: () => at,
    isOver: () => at >= moments.length,
    wanted: () => [...new Set([...missing].map(note => expected[note]!.pitch))],
    hear(pitch) {
      const moment = moments[at]
      if (!moment) return { kind: 'neutral', moment: at }
      const notes = [...missing].filter(note => expected[note]!.pitch === pitch)
      if (notes.length === 0)
        return {
          kind:
            moment.pitches.includes(pitch) || moment.free.includes(pitch) || moments[at - 1]?.free.includes(pitch)
              ? 'neutral'
              : 'wrong',
          moment: at,
        }
      for (const note of notes) missing.delete(note)
      const stroke: OwnTimeStroke = { kind: 'right', moment: at, notes, completes: missing.size === 0 }
      if (missing.size === 0) missing = new Set(moments[++at]?.notes)
      return stroke
    },
  }
}
