import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { barPulses, type ClickChoice } from './click'
import { loopPlan } from './loop'
import { spanPassage, wholePassage } from './passage'
import { quarters, toDecimal } from './quarters'
import { swingRatioAtTempo } from './swing'

const phases = (beats: number, beatType: number, choice: ClickChoice, bpm = 90, groups?: number[]) =>
  barPulses({ beats, beatType, ...(groups ? { groups } : {}) }, bpm, choice).map(({ phase }) => toDecimal(phase))

describe('the clicks of a bar', () => {
  it('count each beat in as many parts as asked (common practice: "1 &", "1 trip let", "1 e & a")', () => {
    expect(phases(2, 4, { on: 'beats', within: 1 })).toEqual([0, 1])
    expect(phases(2, 4, { on: 'beats', within: 2 })).toEqual([0, 0.5, 1, 1.5])
    expect(phases(2, 4, { on: 'beats', within: 4 })).toEqual([0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75])
    expect(phases(2, 4, { on: 'beats', within: 3 }).map(phase => phase * 3)).toEqual([0, 1, 2, 3, 4, 5])
  })

  it('of compound and additive meters fall on the beats that are felt', () => {
    expect(phases(6, 8, { on: 'beats', within: 1 })).toEqual([0, 1.5])
    expect(phases(6, 8, { on: 'beats', within: 3 })).toEqual([0, 0.5, 1, 1.5, 2, 2.5])
    expect(phases(5, 8, { on: 'beats', within: 1 }, 90, [3, 2])).toEqual([0, 1.5])
  })

  it('are on 2 and 4, on bar starts alone, or silent, where that is chosen', () => {
    expect(phases(4, 4, { on: 'backbeats', within: 1 })).toEqual([1, 3])
    expect(phases(3, 4, { on: 'backbeats', within: 1 })).toEqual([1, 2])
    expect(phases(4, 4, { on: 'bars', within: 4 })).toEqual([0])
    expect(phases(4, 4, { on: 'none', within: 4 })).toEqual([])
  })

  it('tell downbeat, beat and what lies between apart', () => {
    expect(
      barPulses({ beats: 2, beatType: 4 }, 90, { on: 'beats', within: 2 }).map(({ downbeat, isFiner }) =>
        downbeat ? 'down' : isFiner ? 'finer' : 'beat',
      ),
    ).toEqual(['down', 'finer', 'beat', 'finer'])
  })
})

describe('the clicks of a loop', () => {
  const FERRY = demoScore('lantern-ferry.musicxml').arrangement
  const passage = spanPassage(quarters(1), quarters(17), 'both')

  it('drop out for a bar where that is chosen, and the count-in never does', () => {
    const { clicks, countIn, roundMs } = loopPlan(FERRY, passage, 60, 0, {
      on: 'beats',
      within: 1,
      dropOut: { sounding: 1, silent: 1 },
    })
    expect(clicks.map(({ atMs }) => atMs)).toEqual([0, 1000, 2000, 3000, 8000, 9000, 10_000, 11_000])
    expect(countIn).toHaveLength(4)
    expect(roundMs).toBe(16_000)
  })

  it('begin counting bars behind a pickup', () => {
    const { clicks } = loopPlan(FERRY, spanPassage(quarters(0), quarters(9), 'both'), 60, 0, {
      on: 'beats',
      within: 1,
      dropOut: { sounding: 1, silent: 1 },
    })
    expect(clicks.map(({ atMs }) => atMs)).toEqual([0, 1000, 2000, 3000, 4000, 9000, 10_000, 11_000])
  })

  it('swing their eighths as the score does, and nothing else', () => {
    const shuffle = { ...FERRY, swings: [{ onset: quarters(0), unit: 'eighth' as const }] }
    const asked = swingRatioAtTempo(60)
    const eighths = loopPlan(shuffle, wholePassage(shuffle, 'both'), 60, 0, { on: 'beats', within: 2 }).clicks
    expect(eighths[1]!.atMs).toBeCloseTo((1000 * asked) / (1 + asked), 6)
    const sixteenths = loopPlan(shuffle, wholePassage(shuffle, 'both'), 60, 0, { on: 'beats', within: 4 }).clicks
    expect(sixteenths[1]!.atMs).toBeCloseTo(250, 6)
  })
})
