import { barAt, tempoAt, type Arrangement } from '../music/arrangement'
import { feltBeatQuarters } from '../music/meter'
import { expectedNotes, type Passage } from '../music/passage'
import { toDecimal } from '../music/quarters'
import { createFollower } from './follow'
import { momentsOf } from './moments'
import { DEFAULT_EAR } from './parameters'
import { turnsOf } from './repeats'
import type { Take } from './take'

/** The place believed on hearing one stroke. Without a place it stands for nothing that is known yet. */
export interface StrokePlace {
  played: number
  atMs: number
  /**
   * Where the note stands that it is believed to be, in quarter notes from the score's beginning; null for a stroke
   * that stands for nothing.
   */
  onsetQuarter: number | null
  bar: number | null
  beat: number | null
}

/**
 * Follows a take stroke by stroke, knowing nothing of what comes after: the place the live ear and an accompaniment go
 * by. With `bpm` (quarter notes a minute) the take's time 0 is the passage's beginning and a click is kept; without,
 * tempo and start are found.
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
  const moments = momentsOf(expected)
  const begin = passage.stretches[0]!.from
  const beatMs = (feltBeatQuarters(barAt(arrangement, begin).meter) * 60_000) / (bpm ?? tempoAt(arrangement, begin))
  const onsets = new Map(arrangement.notes.map(note => [note.id, toDecimal(note.onset)]))
  const follower =
    moments.length === 0
      ? undefined
      : createFollower({
          moments,
          turns: turnsOf(moments, expected, arrangement.bars),
          steady: bpm !== undefined,
          beatMs,
          following: DEFAULT_EAR.following,
        })
  return take.notes.map(({ pitch, onsetMs: atMs }, played) => {
    follower?.advance(pitch, atMs)
    const { moment, kind } = follower?.newest() ?? { moment: -1, kind: 'extra' }
    if (moment < 0 || kind === 'extra') return { played, atMs, onsetQuarter: null, bar: null, beat: null }
    const { id, bar, beat } = expected[moments[moment]!.notes.at(-1)!]!
    return { played, atMs, onsetQuarter: onsets.get(id)!, bar, beat }
  })
}
