import type { Hand } from '../../music/arrangement'
import type { HeardMoment, HeardNote } from '../heard'
import { median } from '../statistics'

/** A hand's chord as it was struck. */
export interface ChordHeard {
  moment: HeardMoment
  hand: Hand
  notes: HeardNote[]
  spreadMs: number
  middleMs: number
}

/**
 * The chords of either hand: from the first key to the last (melody lead in expert chords is about 30 ms, Goebl 2001,
 * from memory).
 */
export function chords(moments: readonly HeardMoment[]): ChordHeard[] {
  return moments.flatMap(moment =>
    (['right', 'left'] as const).flatMap((hand): ChordHeard[] => {
      const notes = moment.notes.filter(note => note.written.hand === hand)
      if (notes.length < 2) return []
      const onsets = notes.map(note => note.deviationMs!)
      return [{ moment, hand, notes, spreadMs: Math.max(...onsets) - Math.min(...onsets), middleMs: median(onsets) }]
    }),
  )
}
