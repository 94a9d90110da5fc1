import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { assessTake } from '../ear/assess'
import { expectedNotes, spanPassage } from '../music/passage'
import { quarters, toDecimal } from '../music/quarters'
import { MACHINE } from '../players/habits'
import { simulatePlayer } from '../players/simulate'
import { failedPlaces, eventOnsets } from './pass'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const passage = spanPassage(quarters(0), quarters(16), 'right')
const expected = expectedNotes(arrangement, passage, 80)
const onsetOf = (index: number) => toDecimal(arrangement.notes.find(note => note.id === expected[index]!.id)!.onset)
const failed = (habits: Partial<typeof MACHINE>, change = (take: ReturnType<typeof simulatePlayer>['take']) => take) =>
  failedPlaces(
    arrangement,
    assessTake({
      arrangement,
      passage,
      take: change(simulatePlayer(expected, { ...MACHINE, ...habits }, 1).take),
      mode: 'steady',
      bpm: 80,
    }),
  ).map(toDecimal)

describe('where a pass failed', () => {
  it('is nowhere in a perfect one', () => expect(failed({})).toEqual([]))
  it('is at a wrong and at a missing note', () => {
    expect(failed({ plantedWrong: { [expected[5]!.id]: 1 } })).toEqual([onsetOf(5)])
    expect(failed({}, take => ({ ...take, notes: take.notes.filter((_, index) => index !== 7) }))).toEqual([onsetOf(7)])
  })
  it('is where a key was only found at the second try', () => {
    const slip = (take: ReturnType<typeof simulatePlayer>['take']) => ({
      ...take,
      notes: [
        ...take.notes,
        { ...take.notes[6]!, pitch: take.notes[6]!.pitch + 1, onsetMs: take.notes[6]!.onsetMs - 150, durationMs: 60 },
      ].sort((a, b) => a.onsetMs - b.onsetMs),
    })
    expect(failed({}, slip)).toEqual([onsetOf(6)])
  })
  it('is at the moment before which the player hesitated', () => {
    const { bar, beat } = expected[8]!
    expect(failed({ hesitations: [{ bar, beat, ms: 700, catchUp: 0 }] })[0]).toBe(onsetOf(8))
  })
  it('counts a chord as one moment', () => {
    const both = eventOnsets(arrangement, { from: quarters(0), to: quarters(16) }, 'both').map(toDecimal)
    expect(new Set(both).size).toBe(both.length)
    expect(both).toEqual([...both].sort((a, b) => a - b))
  })
})
