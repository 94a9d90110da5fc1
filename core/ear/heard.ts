import type { Arrangement, Hand, Hands } from '../music/arrangement'
import type { ExpectedNote, Passage } from '../music/passage'
import type { Alignment, Outcome } from './align'
import type { DueTimes, TempoOfTake } from './due-times'
import type { Place } from './finding'
import type { EarParameters } from './parameters'
import { median } from './statistics'
import type { Take, TakeNote } from './take'

/** A written note with what was heard of it. */
export interface HeardNote {
  index: number
  written: ExpectedNote
  outcome: Outcome
  stroke: TakeNote | undefined
  /** When it was due on the take's clock. */
  dueMs: number
  /** + is late; of right and wrong notes. */
  deviationMs: number | undefined
  /** Its moment as written, and as followed (docs in align.ts). */
  moment: number
  followed: number
  sharedKey: boolean
  /** Of a repeat that was not taken: not missed, just not played. */
  isLeftOut: boolean
  /** Played ms for one ms of score time about it. */
  ratio: number
}

/**
 * The right notes of one moment. Grace notes, ornaments and rolled chords are not among them: their time is the
 * player's.
 */
export interface HeardMoment {
  moment: number
  /** In score time and on the take's clock, ms. */
  atMs: number
  dueMs: number
  deviationMs: number
  notes: HeardNote[]
  /** Whether a step from the moment before was played in one go. */
  run: number
}

/** A take that has been understood, as every measure takes it. */
export interface Heard {
  arrangement: Arrangement
  passage: Passage
  hands: Hands
  take: Take
  steady: boolean
  /** Length of a beat of the meter in the take, ms. */
  beatMs: number
  /** Quarter notes a minute in the score's time, for the marks that stand beside the notes. */
  bpm: number | undefined
  ear: EarParameters
  alignment: Alignment
  times: DueTimes
  tempo: TempoOfTake
  notes: HeardNote[]
  moments: HeardMoment[]
}

/** Whether a note's time is the clock's business: not a grace note, an ornament or a rolled chord. */
export const isTimed = ({ grace, ornaments, articulations }: ExpectedNote): boolean =>
  !grace && !ornaments && !articulations?.includes('arpeggiate')

export function heardMoments(notes: readonly HeardNote[], alignment: Alignment): HeardMoment[] {
  const found = new Map<number, HeardNote[]>()
  for (const note of notes) {
    if (note.outcome !== 'right' || !isTimed(note.written)) continue
    const together = found.get(note.moment)
    if (together) together.push(note)
    else found.set(note.moment, [note])
  }
  return [...found]
    .sort(([a], [b]) => a - b)
    .map(([moment, together]) => ({
      moment,
      atMs: alignment.moments[moment]!.atMs,
      dueMs: together[0]!.dueMs,
      deviationMs: median(together.map(note => note.deviationMs!)),
      notes: together,
      run: alignment.followed.attempts.runOfMoment[together[0]!.followed]!,
    }))
}

/** The deviations of one hand's notes in a moment. */
export function deviationsOf(moment: HeardMoment, hand: Hand): number[] {
  const own: number[] = []
  for (const note of moment.notes) if (note.written.hand === hand) own.push(note.deviationMs!)
  return own
}

/** Where a written note stands, as findings name it. */
export const placeOf = ({ hand, bar, beat, time }: ExpectedNote): Place => ({
  hand,
  bar,
  beat: Number(beat.toFixed(4)),
  ...(time > 1 ? { time } : {}),
})
