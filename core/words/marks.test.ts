import { describe, expect, it } from 'vitest'
import { markOf, type MarkedNote } from './marks'

const IN_G = { fifths: 1, toleranceMs: 50 }
const right = (deviationMs: number): MarkedNote => ({ outcome: 'right', playedPitch: 60, deviationMs })

describe('the mark under notes that are due together', () => {
  it('names a wrong key by the signature and as the player names notes', () => {
    const wrong: MarkedNote[] = [
      right(0),
      { outcome: 'wrong', playedPitch: 66, deviationMs: 0 },
      { outcome: 'wrong', playedPitch: 71, deviationMs: 0 },
    ]
    expect(markOf(wrong, IN_G)).toEqual({ kind: 'wrong', sign: '×', text: 'F♯ B' })
    expect(markOf(wrong, { ...IN_G, noteNames: 'german' }).text).toMatch(/H$/)
    expect(markOf(wrong, { ...IN_G, noteNames: 'solfege' }).text).toContain('Si')
  })
  it('counts what is missing of a chord, and only marks a missing note', () => {
    const missed: MarkedNote = { outcome: 'missed', playedPitch: null, deviationMs: null }
    expect([markOf([missed], IN_G).text, markOf([missed, missed, right(0)], IN_G).text]).toEqual(['', '2'])
  })
  it('says early and late beyond the tolerance', () => {
    expect(
      [[-80], [-50], [50], [60, 70]].map(ms => markOf(ms.map(right), IN_G)).map(({ sign, text }) => `${sign} ${text}`),
    ).toEqual(['◂ early 80', '✓ ', '✓ ', '▸ late 65'])
  })
})
