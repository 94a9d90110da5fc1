import { bisector } from 'd3-array'
import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { median } from './statistics'

/** All written notes meant to sound together, grace notes with the note they lead to. */
export interface ScoreEvent {
  /** When it is due, ms in score time. */
  atMs: number
  /** Indices into the expected notes, in their order. */
  notes: number[]
  /** The keys of `notes`, one for each. */
  pitches: number[]
  /** The hands of `notes`. */
  hands: Hand[]
  /** Keys that may be struck freely while this event is the newest: notes of a trill or turn that is sounding. */
  free: number[]
  /** Keys tied over around here that should only be held. */
  tied: number[]
  /** The first event of its bar: people like to start again there. */
  startsBar: boolean
}

/** Largest distance of an ornament's strokes from its written note, half steps. */
export const ORNAMENT_REACH = 2

/** Groups expected notes (sorted by due time) into score events, in order of time. */
export function groupScoreEvents(expected: readonly ExpectedNote[]): ScoreEvent[] {
  const order = expected.map((_, index) => index).sort((a, b) => expected[a]!.eventMs - expected[b]!.eventMs || a - b)
  const events: ScoreEvent[] = []
  let trills: ExpectedNote[] = []
  for (const index of order) {
    const note = expected[index]!
    let event = events.at(-1)
    if (!event || note.eventMs - event.atMs > 1) {
      trills = trills.filter(one => one.eventMs + one.durationMs > note.eventMs)
      const before = event && expected[event.notes.at(-1)!]!
      event = {
        atMs: note.eventMs,
        notes: [],
        pitches: [],
        hands: [],
        free: trills.flatMap(aroundOrnament),
        tied: [],
        startsBar: before?.bar !== note.bar,
      }
      events.push(event)
    }
    event.notes.push(index)
    event.pitches.push(note.pitch)
    event.hands.push(note.hand)
    if (note.ornaments) {
      trills.push(note)
      event.free.push(...aroundOrnament(note))
    }
  }
  for (const { pitch, ties } of expected) {
    for (const { atMs } of ties ?? []) {
      // A tie is struck again at its notehead, on the beat or together with other notes there.
      const here = byEventTime.right(events, atMs + 1) - 1
      for (const event of [events[here], events[here - 1]])
        if (event && event.atMs > atMs - 1000) event.tied.push(pitch)
    }
  }
  return events
}

/**
 * How far the left hand comes behind the right at each event where both have struck, ms. `onsetMs`: when a note (by
 * index) was struck; undefined for one that was not, or that does not count.
 */
export function lagsAtCoincidences(
  events: readonly Pick<ScoreEvent, 'notes' | 'hands'>[],
  onsetMs: (note: number) => number | undefined,
): number[] {
  const lags: number[] = []
  for (const { notes, hands } of events) {
    if (!hands.includes('left') || !hands.includes('right')) continue
    const struck = { left: [] as number[], right: [] as number[] }
    notes.forEach((note, place) => {
      const atMs = onsetMs(note)
      if (atMs !== undefined) struck[hands[place]!].push(atMs)
    })
    if (struck.left.length > 0 && struck.right.length > 0) lags.push(median(struck.left) - median(struck.right))
  }
  return lags
}

const byEventTime = bisector((event: ScoreEvent) => event.atMs)

const aroundOrnament = ({ pitch }: ExpectedNote): number[] =>
  Array.from({ length: 2 * ORNAMENT_REACH + 1 }, (_, step) => pitch - ORNAMENT_REACH + step)
