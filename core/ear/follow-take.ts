import { repeatJumpsOf } from './repeat-jumps'
import { feltBeatMs, type Arrangement } from '../music/arrangement'
import { expectedNotes, type Passage } from '../music/passage'
import { toDecimal } from '../music/quarters'
import { createFollower } from './follow'
import { groupScoreEvents } from './score-events'
import { DEFAULT_EAR } from './parameters'
import type { Take } from './take'

/** The place believed on hearing one stroke; without a place the stroke matches nothing yet. */
export interface StrokePlace {
  played: number
  atMs: number
  /**
   * The onset of the note it is believed to be, in quarter notes from the start of the score; null for an unmatched
   * stroke.
   */
  onsetQuarter: number | null
  bar: number | null
  beat: number | null
}

/**
 * Follows a take stroke by stroke without knowing the future, as the live judge and an accompaniment do. With `bpm`
 * (quarter notes a minute) time 0 is the start of the passage and a click is kept; without it, tempo and start are
 * found.
 */
export function followTake({
  arrangement,
  passage,
  take,
  bpm,
}: {
  arrangement: Arrangement
  passage: Passage
  take: Take
  bpm?: number
}): StrokePlace[] {
  const expected = expectedNotes(arrangement, passage, bpm)
  const events = groupScoreEvents(expected)
  const begin = passage.stretches[0]!.from
  const beatMs = feltBeatMs(arrangement, begin, bpm)
  const onsets = new Map(arrangement.notes.map(note => [note.id, toDecimal(note.onset)]))
  const follower =
    events.length === 0
      ? undefined
      : createFollower({
          events,
          turns: repeatJumpsOf(events, expected, arrangement.bars),
          steady: bpm !== undefined,
          beatMs,
          following: DEFAULT_EAR.following,
        })
  return take.notes.map(({ pitch, onsetMs: atMs }, played) => {
    follower?.advance(pitch, atMs)
    const { event, kind } = follower?.newest() ?? { event: -1, kind: 'extra' }
    if (event < 0 || kind === 'extra') return { played, atMs, onsetQuarter: null, bar: null, beat: null }
    const { id, bar, beat } = expected[events[event]!.notes.at(-1)!]!
    return { played, atMs, onsetQuarter: onsets.get(id)!, bar, beat }
  })
}
