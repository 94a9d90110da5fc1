import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import type { TakeNote } from '../ear/take'
import type { Hands } from '../music/arrangement'
import { barsPassage, expectedNotes } from '../music/passage'
import { CHARACTERS, MACHINE, type PlayerHabits } from '../players/habits'
import { seededChance } from '../players/randomness'
import { simulatePlayer } from '../players/simulate'
import { NoteIndex } from './note-index'
import { recognise } from './recognise'

const SONGS = DEMO_FILES.map(file => demoScore(file).arrangement)
const index = new NoteIndex()
SONGS.forEach((song, number) => index.add(number, song))

/** Bars of a song as somebody plays them, from a moment on. */
function played(
  song: number,
  from: number,
  to: number,
  hands: Hands,
  habits: Partial<PlayerHabits> = {},
  atMs = 0,
  seed = 1,
): TakeNote[] {
  const arrangement = SONGS[song]!
  const { take } = simulatePlayer(
    expectedNotes(arrangement, barsPassage(arrangement, from, to, hands), 84),
    { ...MACHINE, jitterMs: 18, ...habits },
    seed,
  )
  return take.notes.map(note => ({ ...note, onsetMs: note.onsetMs + atMs }))
}
const lengthOf = (notes: readonly TakeNote[]) => notes.at(-1)!.onsetMs + notes.at(-1)!.durationMs

describe('what is played is recognised', () => {
  it.each(
    SONGS.flatMap((_, song) =>
      (['right', 'left', 'both'] as const).map(hands => [DEMO_FILES[song]!, song, hands] as const),
    ),
  )('%s: song, bars and hands, from any bar (song %i, %s)', (_name, song, hands) => {
    const found = recognise(index, played(song, 5, 12, hands, CHARACTERS.good))
    const [first] = found
    expect(found.length).toBeGreaterThan(0)
    // Two editions of a song, and parts that come again, are the same to the ear.
    const isSame = (other: number) => other === song || SONGS[other]!.title === SONGS[song]!.title
    expect(isSame(first!.score)).toBe(true)
    if (first!.score === song && first!.hands === hands) expect(first!.toBar - first!.fromBar).toBeLessThanOrEqual(9)
  })

  it('several things one after the other, with other things between them, which are left alone', () => {
    const chance = seededChance(4)
    const first = played(0, 5, 10, 'right')
    const doodle = Array.from({ length: 40 }, (_, at): TakeNote => ({
      onsetMs: lengthOf(first) + 4000 + 310 * at,
      durationMs: 250,
      pitch: 55 + Math.floor(24 * chance.uniform()),
      velocity: 60,
    }))
    const second = played(1, 1, 8, 'both', {}, lengthOf(doodle) + 5000)
    const found = recognise(index, [...first, ...doodle, ...second])
    expect(found.map(({ score, hands }) => [score, hands])).toEqual([
      [0, 'right'],
      [1, 'both'],
    ])
    expect(Math.abs(found[0]!.fromBar - 5) + Math.abs(found[0]!.toBar - 10)).toBeLessThanOrEqual(1)
    expect(found[0]!.toPlayed).toBeLessThan(first.length + 2)
    expect(found[1]!.fromPlayed).toBeGreaterThan(first.length + doodle.length - 3)
  })

  it('with slips, and with a start anew, which is told', () => {
    const [stretch, ...more] = recognise(
      index,
      played(0, 4, 11, 'both', {
        wrong: 0.06,
        missed: 0.05,
        extra: 0.04,
        restarts: [{ bar: 8, beat: 1, eventsBack: 7, pauseMs: 1500 }],
      }),
    )
    expect(more).toEqual([])
    expect(stretch).toMatchObject({ score: 0, hands: 'both', restarts: 1 })
    expect(Math.abs(stretch!.fromBar - 4) + Math.abs(stretch!.toBar - 11)).toBeLessThanOrEqual(1)
  })

  it('at half and at double the tempo', () => {
    for (const slow of [0.5, 2])
      expect(recognise(index, played(2, 3, 10, 'right', { stretch: [slow, slow] }))[0]).toMatchObject({
        hands: 'right',
      })
  })
})

describe('what is no song', () => {
  const scale = (from: number, steps: readonly number[], count: number) =>
    Array.from({ length: count }, (_, at) => from + 12 * Math.floor(at / steps.length) + steps[at % steps.length]!)
  const even = (pitches: readonly number[], stepMs = 240): TakeNote[] =>
    pitches.map((pitch, at) => ({ onsetMs: at * stepMs, durationMs: stepMs, pitch, velocity: 64 }))

  it('is left alone: scales up and down, arpeggios, repeated notes', () => {
    for (const tonic of [48, 53, 55, 60]) {
      const up = scale(tonic, [0, 2, 4, 5, 7, 9, 11], 15)
      expect(recognise(index, even([...up, ...up.toReversed(), ...up]))).toEqual([])
      const broken = scale(tonic, [0, 4, 7], 10)
      expect(recognise(index, even([...broken, ...broken.toReversed()]))).toEqual([])
    }
    expect(recognise(index, even(Array.from({ length: 40 }, () => 60)))).toEqual([])
  })

  it('is left alone: two hundred people who wander about the keys', () => {
    let claimed = 0
    for (let seed = 0; seed < 200; seed++) {
      const chance = seededChance(seed)
      let pitch = 60
      const white = [0, 2, 4, 5, 7, 9, 11]
      const notes = Array.from({ length: 80 }, (_, at): TakeNote => {
        pitch = Math.min(84, Math.max(48, pitch + Math.round(6 * (chance.uniform() - 0.5))))
        return {
          onsetMs: at * (200 + 200 * (at % 3 === 0 ? 1 : 0)),
          durationMs: 180,
          pitch: 12 * Math.floor(pitch / 12) + white[(pitch % 12) % 7]!,
          velocity: 60,
        }
      })
      if (recognise(index, notes).length > 0) claimed++
    }
    expect(claimed).toBeLessThanOrEqual(2)
  })

  it('nor is a song that is not in the book', () => {
    const others = new NoteIndex()
    SONGS.slice(1).forEach((song, number) => others.add(number, song))
    expect(recognise(others, played(0, 1, 16, 'both'))).toEqual([])
  })
})
