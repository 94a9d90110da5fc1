import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import type { Take } from '../ear/take'
import { barsMarked } from '../music/marked'
import { expectedNotes, spanPassage } from '../music/passage'
import { seededChance } from '../players/randomness'
import { recognisedSpans } from './heard'
import { NoteIndex } from './note-index'

const SONGS = ['lantern-ferry.musicxml', 'side-street-shuffle.musicxml'].map(name => demoScore(name).arrangement)
const index = new NoteIndex()
SONGS.forEach((song, number) => index.add(number, song))

/** Bars of a song (by index) as somebody plays them, from a moment on. */
function played(
  song: number,
  first: number,
  last: number,
  bpm: number,
  startMs: number,
  hands: 'right' | 'left' | 'both' = 'right',
) {
  const stretch = barsMarked(SONGS[song]!, first, last)
  return expectedNotes(SONGS[song]!, spanPassage(stretch.from, stretch.to, hands), bpm).map(note => ({
    onsetMs: startMs + note.onsetMs,
    durationMs: note.durationMs * 0.9,
    pitch: note.pitch,
    velocity: 70,
  }))
}
const take = (...notes: Take['notes'][]): Take => ({
  notes: notes.flat().sort((a, b) => a.onsetMs - b.onsetMs),
  pedals: [],
})

describe('what was played by the way', () => {
  it('is told by song, bars, hands and tempo, and judged in its own time', () => {
    const heard = recognisedSpans(index, SONGS, take(played(0, 9, 16, 68, 4_000)))
    expect(heard).toHaveLength(1)
    expect(heard[0]).toMatchObject({
      score: 0,
      hands: 'right',
      stretch: barsMarked(SONGS[0]!, 9, 16),
      atMs: 4_000,
      summary: { missed: 0, wrong: 0 },
    })
    expect(heard[0]!.bpm).toBeCloseTo(68, 0)
    expect(heard[0]!.take.notes[0]!.onsetMs).toBe(0)
  })

  it('is told apart where two songs follow each other, and what lies between is left out', () => {
    const chance = seededChance(3)
    const noodling = Array.from({ length: 24 }, (_, at) => ({
      onsetMs: 30_000 + at * 310,
      durationMs: 200,
      pitch: 48 + Math.floor(chance.uniform() * 30),
      velocity: 60,
    }))
    const heard = recognisedSpans(
      index,
      SONGS,
      take(played(0, 2, 7, 80, 0), noodling, played(1, 4, 9, 90, 45_000, 'both')),
    )
    expect(heard.map(({ score, hands }) => [score, hands])).toEqual([
      [0, 'right'],
      [1, 'both'],
    ])
  })

  it('is nothing where no song was played', () => {
    const chance = seededChance(11)
    expect(
      recognisedSpans(
        index,
        SONGS,
        take(
          Array.from({ length: 60 }, (_, at) => ({
            onsetMs: at * 280,
            durationMs: 200,
            pitch: 50 + Math.floor(chance.uniform() * 24),
            velocity: 60,
          })),
        ),
      ),
    ).toEqual([])
    expect(recognisedSpans(index, SONGS, take([]))).toEqual([])
  })
})
