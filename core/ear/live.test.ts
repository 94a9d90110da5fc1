import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { expectedNotes, spanPassage, type ExpectedNote } from '../music/passage'
import { quarters } from '../music/quarters'
import { MACHINE } from '../players/habits'
import { simulatePlayer } from '../players/simulate'
import { createLiveEar } from './live'

const at = (onsetMs: number, pitch: number): ExpectedNote => ({
  id: `n${onsetMs}`,
  hand: 'right',
  bar: 1,
  beat: 1,
  pitch,
  spelled: '',
  onsetMs,
  durationMs: 500,
  grace: false,
  time: 1,
  eventMs: onsetMs,
  quarterMs: 1000,
  barIndex: 0,
  voice: '1',
})
const ROUND = [at(0, 60), at(1000, 62), at(2000, 64), at(3000, 65)]
const twoRounds = () => {
  const ear = createLiveEar()
  ear.addRound({ round: 0, startMs: 1000, expected: ROUND, beatMs: 1000 })
  ear.addRound({ round: 1, startMs: 5000, expected: ROUND, beatMs: 1000 })
  return ear
}

describe('the ear during a loop', () => {
  it('says at once which note a key is, and how late', () => {
    const ear = twoRounds()
    expect(ear.hear(60, 1012)).toEqual([{ round: 0, index: 0, outcome: 'right', playedPitch: 60, deviationMs: 12 }])
    expect(ear.hear(63, 2010)).toEqual([{ round: 0, index: 1, outcome: 'wrong', playedPitch: 63, deviationMs: 10 }])
  })

  it('lets the right key put a wrong one right', () => {
    const ear = twoRounds()
    ear.hear(60, 1000)
    ear.hear(61, 1950)
    expect(ear.hear(62, 2150)).toMatchObject([{ index: 1, outcome: 'right', deviationMs: 150 }])
  })

  it('knows an early first note of the next round over the seam', () => {
    const ear = twoRounds()
    for (const [index, note] of ROUND.entries()) ear.hear(note.pitch, 1000 + index * 1000)
    expect(ear.hear(60, 4900)).toMatchObject([{ round: 1, index: 0, deviationMs: -100 }])
    expect(ear.roundOf(3)).toBe(0)
    expect(ear.roundOf(4)).toBe(1)
  })

  it('calls a note missed only when it can no longer come, and once', () => {
    const ear = twoRounds()
    expect(ear.expireMissed(1800)).toEqual([])
    expect(ear.expireMissed(2000)).toMatchObject([{ index: 0, outcome: 'missed' }])
    expect(ear.expireMissed(2000)).toEqual([])
  })

  it('goes on by the clock after a missing note', () => {
    const ear = twoRounds()
    ear.hear(60, 1000)
    expect(ear.hear(64, 3010)).toMatchObject([{ index: 2, outcome: 'right', deviationMs: 10 }])
    expect(ear.expireMissed(3200)).toMatchObject([{ index: 1, outcome: 'missed' }])
  })

  it('follows a player who takes up again, and measures from the beat they fell in with', () => {
    const ear = createLiveEar()
    const melody = [60, 64, 62, 65, 67, 65, 69, 64, 71, 67, 72, 69].map((pitch, index) => at(index * 1000, pitch))
    ear.addRound({ round: 0, startMs: 0, expected: melody, beatMs: 1000 })
    for (const note of melody.slice(0, 6)) ear.hear(note.pitch, note.onsetMs)
    // Back to the third note, four beats behind from there on.
    const marks = melody.slice(2, 8).flatMap(note => ear.hear(note.pitch, note.onsetMs + 4000))
    expect(marks.slice(-3)).toMatchObject([
      { index: 5, outcome: 'right', deviationMs: 0 },
      { index: 6, outcome: 'right', deviationMs: 0 },
      { index: 7, outcome: 'right', deviationMs: 0 },
    ])
  })

  it('lets a player who fell behind finish the round, without spoiling the next', () => {
    const ear = createLiveEar()
    const melody = [60, 64, 62, 65, 67, 70, 69, 72].map((pitch, index) => at(index * 1000, pitch))
    ear.addRound({ round: 0, startMs: 0, expected: melody, beatMs: 1000 })
    ear.addRound({ round: 1, startMs: 8000, expected: melody, beatMs: 1000 })
    for (const note of melody.slice(0, 4)) ear.hear(note.pitch, note.onsetMs)
    // Back to the second note, three beats behind; the last three notes fall into the next round.
    const marks = melody.slice(1).flatMap(note => ear.hear(note.pitch, note.onsetMs + 3000))
    expect(marks.slice(-3)).toMatchObject([
      { round: 0, index: 5, deviationMs: 0 },
      { round: 0, index: 6 },
      { round: 0, index: 7, outcome: 'right' },
    ])
    expect(ear.hear(65, 11_000)).toMatchObject([{ round: 1, index: 3, outcome: 'right', deviationMs: 0 }])
  })

  it('marks what a learner really did, note for note', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    const expected = expectedNotes(arrangement, spanPassage(quarters(0), quarters(16), 'both'), 72)
    let same = 0
    let all = 0
    for (let seed = 0; seed < 20; seed++) {
      const { take, truth } = simulatePlayer(expected, { ...MACHINE, jitterMs: 25, wrong: 0.04, missed: 0.04 }, seed)
      const ear = createLiveEar()
      ear.addRound({ round: 0, startMs: 0, expected, beatMs: 60_000 / 72 })
      const marks = new Map<number, string>()
      for (const note of take.notes)
        for (const mark of ear.hear(note.pitch, note.onsetMs)) marks.set(mark.index, mark.outcome)
      for (const mark of ear.expireMissed(1e9)) marks.set(mark.index, mark.outcome)
      expect(marks.size).toBe(expected.length)
      all += expected.length
      same += truth.notes.filter((one, index) => one.outcome === marks.get(index)).length
    }
    expect(same / all).toBeGreaterThan(0.98)
  })
})
