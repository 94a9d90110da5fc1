import type { Hand } from '../../music/arrangement'
import { add, compare } from '../../music/quarters'
import type { ExpectedNote } from '../../music/passage'
import type { HesitationCause } from '../finding'
import type { Heard, HeardEvent } from '../heard'

export interface HesitationHeard {
  ms: number
  /** The first note of the hand that had to move. */
  written: ExpectedNote
  because: HesitationCause
  isChord: boolean
}

/** What makes a step hard (common practice, own figures in half steps). */
const JUMP_SEMITONES = 10
const SHIFT_SEMITONES = 5
/** A hand that has rested for this many events has no position to move from. */
const HAND_RESTS = 60

/**
 * Pauses the music does not ask for, each at the transition where it starts: how long beyond the local tempo, and the
 * likely cause in that step. After a fermata or a written slowing, a pause is no hesitation.
 */
export function hesitations(heard: Heard): HesitationHeard[] {
  const { events, times, alignment } = heard
  const placeOf = new Map(events.map((event, index) => [event.event, index]))
  return times.pauses.flatMap((pause): HesitationHeard[] => {
    const index = placeOf.get(alignment.eventOf[pause.note]!)
    const before = placeOf.get(alignment.eventOf[pause.before]!)
    if (index === undefined || before === undefined || before >= index) return []
    const here = events[index]!
    if (isAsked(heard, events[before]!, here)) return []
    return [{ ms: pause.ms, ...causeOf(heard, before, here) }]
  })
}

/** A fermata on the note before, or a written slowing, asks for the time. */
function isAsked({ arrangement, notes, alignment }: Heard, before: HeardEvent, here: HeardEvent): boolean {
  const hasFermata = ({ event }: HeardEvent) =>
    alignment.events[event]!.notes.some(note => notes[note]!.written.articulations?.includes('fermata'))
  if (hasFermata(before) || hasFermata(here)) return true
  const { barIndex } = here.notes[0]!.written
  const bar = arrangement.bars[barIndex]!
  const word = (arrangement.tempoWords ?? []).findLast(one => compare(one.onset, add(bar.start, bar.length)) < 0)
  return word?.kind === 'slower'
}

function causeOf(heard: Heard, before: number, here: HeardEvent): Omit<HesitationHeard, 'ms'> {
  const lastOf = (hand: Hand) => {
    for (let at = before; at >= 0 && at > before - HAND_RESTS; at--)
      if (own(heard.events[at]!, hand).length > 0) return heard.events[at]
    return undefined
  }
  const hands = (['left', 'right'] as const).flatMap(hand => {
    const now = own(here, hand)
    const last = lastOf(hand)
    if (now.length === 0) return []
    const then = last ? own(last, hand) : []
    return [
      { hand, now, then, leap: leapOf(then, now), shift: then.length === 0 ? 0 : Math.abs(centre(now) - centre(then)) },
    ]
  })
  const mover = hands.reduce((most, one) => (effort(one) > effort(most) ? one : most))
  const { now, then } = mover
  const isChord = now.length > 1
  const previous = heard.events[before]!
  const joins = hands.length === 2 && new Set(previous.notes.map(note => note.written.hand)).size === 1
  const because =
    mover.leap >= JUMP_SEMITONES
      ? 'jump'
      : isChord && !samePitches(now, then)
        ? 'chord change'
        : mover.shift >= SHIFT_SEMITONES
          ? 'position shift'
          : crosses(then, now, mover.hand)
            ? 'crossing'
            : joins
              ? 'hands joining'
              : beginsNew(heard, here)
                ? 'new material'
                : 'next note'
  return { because, isChord, written: now[0]! }
}

const own = (event: HeardEvent, hand: Hand): ExpectedNote[] =>
  event.notes.filter(note => note.written.hand === hand).map(note => note.written)
const centre = (notes: readonly ExpectedNote[]): number =>
  notes.reduce((sum, note) => sum + note.pitch, 0) / notes.length
const effort = ({ now, leap, shift }: { now: readonly ExpectedNote[]; leap: number; shift: number }): number =>
  leap + shift + 3 * (now.length - 1)
const samePitches = (a: readonly ExpectedNote[], b: readonly ExpectedNote[]): boolean =>
  a.length === b.length && a.every((note, index) => note.pitch === b[index]!.pitch)

/** Distance of the nearest new key from any key held before. */
function leapOf(then: readonly ExpectedNote[], now: readonly ExpectedNote[]): number {
  if (then.length === 0) return 0
  return Math.min(...now.map(note => Math.min(...then.map(other => Math.abs(other.pitch - note.pitch)))))
}

/** The thumb passes under, or a finger over it, by the written fingering. */
function crosses(then: readonly ExpectedNote[], now: readonly ExpectedNote[], hand: Hand): boolean {
  const [from, to] = [then[0], now[0]]
  if (!from?.finger || !to?.finger || from.pitch === to.pitch || (from.finger !== 1 && to.finger !== 1)) return false
  const up = to.pitch > from.pitch
  return up === (hand === 'right') ? to.finger < from.finger : to.finger > from.finger
}

/** A moment that begins a section: a rehearsal mark, a repeat, or the bar after a double bar. */
function beginsNew({ arrangement }: Heard, here: HeardEvent): boolean {
  const { barIndex, beat } = here.notes[0]!.written
  const bar = arrangement.bars[barIndex]!
  const marked = arrangement.rehearsals.some(
    ({ onset }) => compare(onset, bar.start) >= 0 && compare(onset, add(bar.start, bar.length)) < 0,
  )
  return marked || (beat < 1.01 && (bar.repeatStart === true || arrangement.bars[barIndex - 1]?.sectionEnd === true))
}
