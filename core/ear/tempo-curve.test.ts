import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { expectedNotes, spanPassage } from '../music/passage'
import { assessTake } from './assess'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const PASSAGE = spanPassage(FERRY.bars[1]!.start, FERRY.bars[17]!.start, 'right')

/** The passage played at a tempo that goes evenly from one to another, quarter notes a minute; exact strokes. */
function played(from: number, to: number) {
  const notes = expectedNotes(FERRY, PASSAGE, 60)
  const endQuarter = notes.at(-1)!.onsetMs / 1000
  // The integral of one over a tempo that is linear in the score.
  const atMs = (quarter: number) =>
    from === to
      ? (quarter * 60_000) / from
      : ((60_000 * endQuarter) / (to - from)) * Math.log(1 + ((to - from) * quarter) / (endQuarter * from))
  return {
    notes: notes.map(note => ({
      onsetMs: atMs(note.onsetMs / 1000),
      durationMs: 200,
      pitch: note.pitch,
      velocity: 70,
    })),
    pedals: [],
  }
}
const curve = (from: number, to: number) =>
  assessTake({ arrangement: FERRY, passage: PASSAGE, take: played(from, to), mode: 'free' }).tempos!

describe('the tempo of free playing', () => {
  it('is the same in every bar of somebody who keeps it', () => {
    for (const { bpm } of curve(66, 66)) expect(Math.abs(bpm - 66)).toBeLessThan(0.5)
    expect(
      curve(66, 66)
        .map(({ bar }) => bar)
        .slice(0, 15),
    ).toEqual(FERRY.bars.slice(1, 16).map(({ number }) => number))
  })

  it('goes up with the player, bar after bar', () => {
    const bars = curve(60, 90)
    bars.forEach(({ bpm }, index) =>
      expect(Math.abs(bpm - (60 + (30 * (index + 0.5)) / bars.length)), `bar ${index}`).toBeLessThan(2.5),
    )
    expect(bars.at(-1)!.bpm - bars[0]!.bpm).toBeGreaterThan(20)
  })

  it('is only told where no click gave it', () => {
    expect(
      assessTake({ arrangement: FERRY, passage: PASSAGE, take: played(60, 60), mode: 'steady', bpm: 60 }).tempos,
    ).toBeUndefined()
  })
})
