import { describe, expect, it } from 'vitest'
import type { Finding } from '../ear/finding'
import { measureLabel, timingText } from './measures'

const summary = { onTimeShare: 0.25, onTimeMs: 120, offsetMs: 0.4, unsteadinessMs: 108.5 } as Parameters<
  typeof timingText
>[0]['summary']

describe('what the picture of a pass shows', () => {
  it('is measured against the click', () => {
    expect(timingText({ summary, findings: [] })).toBe(
      '25 % of the right notes within 120 ms; median 0 ms, spread 109 ms.',
    )
  })
  it('or against the player’s own tempo, and says so, with what that meant for the click', () => {
    const own: Finding = {
      kind: 'wrong-tempo',
      ratio: 1.14,
      percent: 14,
      because: 'faster',
      bpm: 61.56,
      askedBpm: 54,
      beatBpm: 61.56,
      askedBeatBpm: 54,
    }
    expect(timingText({ summary, findings: [own] })).toBe(
      'Shown against your own tempo, about 62 beats a minute: median 0 ms, spread 109 ms. With the click, 25 % of the right notes were within 120 ms.',
    )
  })
})

describe('a measure’s name', () => {
  it('tells a drift against the click from a change of tempo without one', () => {
    const drift = { name: 'driftPercent', value: 1, source: 'common-practice' } as unknown as Parameters<
      typeof measureLabel
    >[0]
    expect([measureLabel({ ...drift, withClick: true }), measureLabel({ ...drift, withClick: false })]).toEqual([
      'Drift against the click',
      'Change of tempo from beginning to end',
    ])
  })
})
