import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { expectedNotes, wholePassage } from '../music/passage'
import { MACHINE } from '../players/habits'
import { simulatePlayer } from '../players/simulate'
import { alignTake } from './align'
import { DEFAULT_EAR } from './parameters'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const BPM = 90
const BEAT = 60_000 / BPM
const expected = expectedNotes(arrangement, wholePassage(arrangement, 'both'), BPM)
const align = (leftLateMs: number, steady: boolean) => {
  const { take, truth } = simulatePlayer(expected, { ...MACHINE, jitterMs: 8, leftLateMs }, 2)
  const alignment = alignTake({ expected, played: take.notes, steady, beatMs: BEAT, ear: DEFAULT_EAR })
  const matched =
    truth.notes.filter((note, index) => note.played === alignment.outcomes[index]!.played).length / truth.notes.length
  return { ...alignment, matched }
}

describe.each([
  ['with a click', true],
  ['without a click', false],
] as const)('a left hand %s', (_name, steady) => {
  it('that is with the right is left where it is', () => {
    expect(align(0, steady)).toMatchObject({ matched: 1 })
    expect(align(0, steady).loose).toBeUndefined()
  })

  it.each([70, -70, BEAT, 2 * BEAT])('that lies %d ms behind is found there, its lag measured', lagMs => {
    const { loose, matched } = align(lagMs, steady)
    expect(matched).toBeGreaterThan(0.97)
    // Which hand strays is a matter of words when both go on evenly: the lag between them is not.
    expect(Math.abs((loose!.hand === 'left' ? loose!.lagMs : -loose!.lagMs) - lagMs)).toBeLessThan(10)
  })
})
