import type { Arrangement, Hand, Hands } from '../music/arrangement'
import { type ExpectedNote, type Passage, isTimed } from '../music/passage'
import type { Alignment, Outcome } from './align'
import type { DueTimes, TempoOfTake } from './due-times'
import type { Place } from './finding'
import type { EarParameters } from './parameters'
import { median } from './statistics'
import type { Take, TakeNote } from './take'

/** A written note and what was heard of it. */
export interface HeardNote {
  index: number
  written: ExpectedNote
  outcome: Outcome
  stroke: TakeNote | undefined
  /** When it was due on the take's clock. */
  dueMs: number
  /** + is late; of right and wrong notes. */
  deviationMs: number | undefined
  /** Its event as written, and as followed (see align.ts). */
  event: number
  followed: number
  sharedKey: boolean
  /** Part of a repeat that was not taken: not missed, only not played. */
  isLeftOut: boolean
  /** Played ms for one ms of score time about it. */
  ratio: number
}

/** The right notes of one event. Grace notes, ornaments and rolled chords are left out: their timing is free. */
export interface HeardEvent {
  event: number
  /** In score time and on the take's clock, ms. */
  atMs: number
  dueMs: number
  deviationMs: number
  notes: HeardNote[]
  /** Which run it belongs to: steps within a run were played without a stop. */
  run: number
}

/** An aligned take, as every measure takes it. */
export interface Heard {
  arrangement: Arrangement
  passage: Passage
  hands: Hands
  take: Take
  steady: boolean
  /** Length of a beat of the meter in the take, ms. */
  beatMs: number
  /** Quarter notes a minute in score time, for the marks beside the notes. */
  bpm: number | undefined
  ear: EarParameters
  alignment: Alignment
  times: DueTimes
  tempo: TempoOfTake
  notes: HeardNote[]
  events: HeardEvent[]
}

export function heardEvents(notes: readonly HeardNote[], alignment: Alignment): HeardEvent[] {
  const found = new Map<number, HeardNote[]>()
  for (const note of notes) {
    if (note.outcome !== 'right' || !isTimed(note.written)) continue
    const together = found.get(note.event)
    if (together) together.push(note)
    else found.set(note.event, [note])
  }
  return [...found]
    .sort(([a], [b]) => a - b)
    .map(([event, together]) => ({
      event,
      atMs: alignment.events[event]!.atMs,
      dueMs: together[0]!.dueMs,
      deviationMs: median(together.map(note => note.deviationMs!)),
      notes: together,
      run: alignment.followed.attempts.runOfEvent[together[0]!.followed]!,
    }))
}

/** The deviations of one hand's notes in a event. */
export function deviationsOf(event: HeardEvent, hand: Hand): number[] {
  const own: number[] = []
  for (const note of event.notes) if (note.written.hand === hand) own.push(note.deviationMs!)
  return own
}

/** The place of a written note, as findings name it. */
export const placeOf = ({ hand, bar, beat, time }: ExpectedNote): Place => ({
  hand,
  bar,
  beat: Number(beat.toFixed(4)),
  ...(time > 1 ? { time } : {}),
})
