import type { ExpectedNote } from '../music/passage'
import type { MidiPitch } from '../music/pitch'
import { groupScoreEvents, type ScoreEvent } from './score-events'

/** How a struck key is understood in the player's own time. */
export type OwnTimeStroke =
  | { kind: 'right'; event: number; notes: number[]; completes: boolean }
  /** Not one of the keys waited for. */
  | { kind: 'wrong'; event: number }
  /** A key of this event struck again, an ornament's note (this event's or the one before), or a key after the end. */
  | { kind: 'neutral'; event: number }

export interface OwnTimeWait {
  /** The event waited for; the number of events when all have come. */
  readonly at: () => number
  readonly isOver: () => boolean
  /** The keys still to come in this event. */
  readonly wanted: () => MidiPitch[]
  readonly hear: (pitch: MidiPitch) => OwnTimeStroke
}

/**
 * Waits at each event until all its keys have been struck, in any order and as slowly as the player likes, then for the
 * next. A key that both hands have counts for both.
 */
export function waitForKeys(expected: readonly ExpectedNote[]): OwnTimeWait & { events: readonly ScoreEvent[] } {
  const events = groupScoreEvents(expected)
  let at = 0
  let missing = new Set(events[0]?.notes)
  return {
    events,
    at: () => at,
    isOver: () => at >= events.length,
    wanted: () => [...new Set([...missing].map(note => expected[note]!.pitch))],
    hear(pitch) {
      const event = events[at]
      if (!event) return { kind: 'neutral', event: at }
      const notes = [...missing].filter(note => expected[note]!.pitch === pitch)
      if (notes.length === 0)
        return {
          kind:
            event.pitches.includes(pitch) || event.free.includes(pitch) || events[at - 1]?.free.includes(pitch)
              ? 'neutral'
              : 'wrong',
          event: at,
        }
      for (const note of notes) missing.delete(note)
      const stroke: OwnTimeStroke = { kind: 'right', event: at, notes, completes: missing.size === 0 }
      if (missing.size === 0) missing = new Set(events[++at]?.notes)
      return stroke
    },
  }
}
