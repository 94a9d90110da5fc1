import { describe, expect, it } from 'vitest'
import type { Bar } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { quarters, ZERO } from '../music/quarters'
import { alignTake } from './align'
import { dueTimes } from './due-times'
import { DEFAULT_EAR } from './parameters'
import type { TakeNote } from './take'
import { segmentTempo } from './tempo-segmentation'
import { interpretTempo } from './tempo-heard'

const BEAT = 600
/** A line that never repeats itself, a note a beat. */
const PITCHES = [60, 64, 62, 67, 65, 71, 69, 74, 72, 77, 76, 79, 59, 57, 55, 53, 52, 50, 48, 47, 45, 43, 41, 40]
const LINE: ExpectedNote[] = PITCHES.map((pitch, index) => ({
  id: `n${index}`,
  hand: 'right',
  bar: 1 + (index >> 2),
  barIndex: index >> 2,
  beat: 1 + (index % 4),
  pitch,
  spelled: '',
  onsetMs: index * BEAT,
  durationMs: BEAT,
  grace: false,
  eventMs: index * BEAT,
  quarterMs: BEAT,
  voice: '1',
  time: 1,
}))
const BARS: Bar[] = Array.from({ length: 6 }, (_, index) => ({
  index,
  number: index + 1,
  start: quarters(4 * index),
  length: quarters(4),
  offset: ZERO,
  meter: { beats: 4, beatType: 4 },
  fifths: 0,
}))
const play = (onsetOf: (index: number) => number): TakeNote[] =>
  PITCHES.map((pitch, index) => ({ onsetMs: onsetOf(index), durationMs: 400, pitch, velocity: 70 }))
const timesOf = (played: TakeNote[], steady: boolean) => {
  const alignment = alignTake({ expected: LINE, played, steady, beatMs: BEAT, ear: DEFAULT_EAR })
  const course = segmentTempo(LINE, played, alignment, steady, DEFAULT_EAR.tempo)
  return dueTimes(
    LINE,
    played,
    alignment,
    { course, heard: interpretTempo({ bars: BARS }, LINE, course, steady, DEFAULT_EAR.tempo) },
    steady,
    BEAT,
    DEFAULT_EAR,
  )
}

describe('with a click', () => {
  it('notes are due on it, whatever the player does', () => {
    const { dueMs, tempoRatio, pauses, shifts } = timesOf(
      play(index => index * BEAT + (index % 2 ? 30 : -20)),
      true,
    )
    expect([...dueMs]).toEqual(LINE.map(note => note.onsetMs))
    expect({ tempoRatio, pauses, shifts }).toEqual({ tempoRatio: 1, pauses: [], shifts: [0] })
  })

  it('a pause is found where it begins, with its length, also when the player stays behind', () => {
    const { pauses } = timesOf(
      play(index => index * BEAT + (index >= 9 ? 380 : 0)),
      true,
    )
    expect(pauses).toEqual([{ note: 9, before: 8, ms: 380 }])
  })

  it('one late note is no pause, for the next comes in time', () => {
    expect(
      timesOf(
        play(index => index * BEAT + (index === 9 ? 120 : 0)),
        true,
      ).pauses,
    ).toEqual([])
  })

  it('a stretch taken up again falls in with the beat it is nearest to, or keeps its own', () => {
    const again = (lagMs: number) => [
      ...play(index => index * BEAT).slice(0, 14),
      ...play(index => index * BEAT + lagMs).slice(8),
    ]
    expect(timesOf(again(8 * BEAT + 40), true).shifts).toEqual([0, 8 * BEAT])
    expect(timesOf(again(8.5 * BEAT), true).shifts[1]).toBeCloseTo(8.5 * BEAT, 0)
  })
})

describe('without a click', () => {
  it("start and tempo are the player's own", () => {
    const { dueMs, tempoRatio } = timesOf(
      play(index => 2345 + 1.4 * index * BEAT),
      false,
    )
    expect(tempoRatio).toBeCloseTo(1.4, 6)
    LINE.forEach((note, index) => expect(dueMs[index]).toBeCloseTo(2345 + 1.4 * note.onsetMs, 3))
  })

  it('a tempo that changes is followed', () => {
    let at = 0
    const onsets = PITCHES.map((_, index) => (at += 500 + 25 * index))
    const { dueMs } = timesOf(
      play(index => onsets[index]!),
      false,
    )
    onsets.forEach((onset, index) =>
      expect(Math.abs(dueMs[index]! - onset), `note ${index}`).toBeLessThan(index < 4 || index > 19 ? 500 : 160),
    )
  })

  it('a pause bends neither the tempo before it nor behind it', () => {
    const { dueMs, tempoRatio, pauses } = timesOf(
      play(index => index * BEAT + (index >= 12 ? 2500 : 0)),
      false,
    )
    expect(tempoRatio).toBeCloseTo(1, 3)
    expect(pauses).toMatchObject([{ note: 12, before: 11 }])
    expect(pauses[0]!.ms).toBeCloseTo(2500, 0)
    LINE.forEach((note, index) => expect(dueMs[index]).toBeCloseTo(note.onsetMs + (index >= 12 ? 2500 : 0), 0))
  })

  it('of nothing played is as written', () => {
    expect([...timesOf([], false).dueMs].every(Number.isFinite)).toBe(true)
  })
})
