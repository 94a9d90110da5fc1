import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { expectedNotes, spanPassage } from '../music/passage'
import { arrangementEnd } from '../music/arrangement'
import { ZERO } from '../music/quarters'
import { assessTake } from './assess'
import { playedSpan } from './played-span'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const WHOLE = { from: ZERO, to: arrangementEnd(FERRY) }
const PASSAGE = spanPassage(WHOLE.from, WHOLE.to, 'right')
const ALL = expectedNotes(FERRY, PASSAGE, 72)

/** What is made of the right hand of some bars (by index), played exactly. */
function played(first: number, last: number) {
  const own = ALL.filter(note => note.barIndex >= first && note.barIndex <= last)
  const take = {
    notes: own.map(note => ({
      onsetMs: note.onsetMs - own[0]!.onsetMs,
      durationMs: note.durationMs,
      pitch: note.pitch,
      velocity: 70,
    })),
    pedals: [],
  }
  return playedSpan(FERRY, WHOLE, assessTake({ arrangement: FERRY, passage: PASSAGE, take, mode: 'free' }).notes)
}

describe('what a free pass went over', () => {
  it('is all of it when all was played', () => {
    expect(played(0, FERRY.bars.length - 1)).toEqual(WHOLE)
  })

  it('ends with the bar in which the player stopped', () => {
    expect(played(0, 5)).toEqual({ from: ZERO, to: FERRY.bars[6]!.start })
  })

  it('is nothing when hardly anything was played, or nothing of it', () => {
    expect(playedSpan(FERRY, WHOLE, [])).toBeUndefined()
    const noise = {
      notes: Array.from({ length: 12 }, (_, index) => ({
        onsetMs: index * 300,
        durationMs: 200,
        pitch: 30 + (index % 2),
        velocity: 60,
      })),
      pedals: [],
    }
    expect(
      playedSpan(FERRY, WHOLE, assessTake({ arrangement: FERRY, passage: PASSAGE, take: noise, mode: 'free' }).notes),
    ).toBeUndefined()
  })
})
