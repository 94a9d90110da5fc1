import { otherHand } from '../music/voice'
import type { Arrangement, Hand, Note } from '../music/arrangement'
import type { MidiPitch } from '../music/pitch'
import { add, compare, type Quarters } from '../music/quarters'
import { barAt } from '../music/arrangement'

/** How far a hand may go without crossing the other: all its keys lie `below`, or `above`, these. */
export interface Limit {
  readonly below?: MidiPitch
  readonly above?: MidiPitch
}

/** What the other hand's keys say to a hand. */
export interface OtherHand {
  /** How far it may go from a moment up to another. */
  limit: (from: Quarters, to: Quarters) => Limit
  /** Whether the other hand holds or strikes a key at a moment, and when it next strikes after it. */
  sounds: (at: Quarters) => boolean
  next: (at: Quarters) => Quarters | undefined
}

/** Asks the other hand's notes, found by the bars they sound in. */
export function otherThan(hand: Hand, arrangement: Pick<Arrangement, 'bars' | 'notes'>): OtherHand {
  const { bars } = arrangement
  const notes = arrangement.notes.filter(note => note.hand === otherHand(hand) && !note.grace)
  const byBar = bars.map((): Note[] => [])
  for (const note of notes)
    for (
      let index = note.barIndex;
      index < bars.length && compare(bars[index]!.start, add(note.onset, note.duration)) < 0;
      index++
    )
      byBar[index]!.push(note)
  const barOf = (at: Quarters) => barAt(arrangement as Arrangement, at).index
  const sounding = (from: Quarters, to: Quarters) => {
    const found: Note[] = []
    for (let index = barOf(from); index < bars.length && compare(bars[index]!.start, to) < 0; index++)
      for (const note of byBar[index]!)
        if (compare(note.onset, to) < 0 && compare(add(note.onset, note.duration), from) > 0) found.push(note)
    return found
  }
  return {
    limit(from, to) {
      const keys = sounding(from, to).map(({ pitch }) => pitch)
      return keys.length === 0 ? {} : hand === 'left' ? { below: Math.min(...keys) } : { above: Math.max(...keys) }
    },
    sounds: at =>
      byBar[barOf(at)]!.some(note => compare(note.onset, at) <= 0 && compare(add(note.onset, note.duration), at) > 0),
    next(at) {
      for (let index = barOf(at); index < bars.length; index++) {
        const later = byBar[index]!.filter(note => compare(note.onset, at) > 0)
        if (later.length > 0)
          return later.reduce((first, note) => (compare(note.onset, first) < 0 ? note.onset : first), later[0]!.onset)
      }
      return undefined
    },
  }
}
