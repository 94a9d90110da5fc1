import { EACH_HAND } from '#core/music/arrangement'
import type { Hand } from '../../music/arrangement'
import type { HeardEvent, HeardNote } from '../heard'
import { median } from '../statistics'

/** A hand's chord as it was struck. */
export interface ChordHeard {
  event: HeardEvent
  hand: Hand
  notes: HeardNote[]
  spreadMs: number
  middleMs: number
}

/**
 * The chords of either hand: from the first key to the last (melody lead in expert chords is about 30 ms, Goebl 2001,
 * unchecked).
 */
export function chords(events: readonly HeardEvent[]): ChordHeard[] {
  return events.flatMap(event =>
    EACH_HAND.flatMap((hand): ChordHeard[] => {
      const notes = event.notes.filter(note => note.written.hand === hand)
      if (notes.length < 2) return []
      const onsets = notes.map(note => note.deviationMs!)
      return [{ event, hand, notes, spreadMs: Math.max(...onsets) - Math.min(...onsets), middleMs: median(onsets) }]
    }),
  )
}
