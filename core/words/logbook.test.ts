import { describe, expect, it } from 'vitest'
import { trendOf } from '../coach/trend'
import { forecastText } from './forecast'
import { minutesText, trendTexts } from './logbook'
import { stageText, gatesText, readyText } from './stairs'

const FLIGHT = {
  isDone: false,
  isOpen: true,
  wantedBpm: 60,
  meter: { beats: 4, beatType: 4 },
  treads: [{ bpm: 60, isReached: false, isClean: false, isHere: true }],
  passes: 0,
  gates: [],
  mended: [],
}
const IN_SIX = { beats: 6, beatType: 8 }

describe('what the Logbook says', () => {
  it('whether it is getting better and what it took, nothing of what there is not', () => {
    const days = [
      { day: '2026-03-10', minutes: 30, passes: 40, clean: 10, unsteadinessMs: 45 },
      { day: '2026-03-30', minutes: 100, passes: 50, clean: 30, unsteadinessMs: 30 },
    ]
    expect(trendTexts(trendOf(days, '2026-04-08'))).toEqual([
      'In the last two weeks: 1 h 40 min of playing on 1 day.',
      '60 % of 50 passes were clean.',
      'Notes lie 30 ms to either side of the beat.',
    ])
    expect(trendTexts(trendOf(days, '2026-04-25'))).toEqual([])
    expect(trendTexts(trendOf([{ ...days[0]!, day: '2026-03-17' }, ...days.slice(1)], '2026-03-31'))[1]).toBe(
      '60 % of 50 passes were clean, 25 % before.',
    )
  })
  it('minutes as a person would', () =>
    expect([0.4, 1, 45.4, 90, 200].map(minutesText)).toEqual([
      'under a minute',
      '1 min',
      '45 min',
      '1 h 30 min',
      '3 h 20 min',
    ]))
})

describe('where the player stands', () => {
  it('with a hand of a part', () => {
    expect(stageText({ ...FLIGHT, gate: { inARow: 1, of: 2 } })).toBe('At 60 bpm, 1 of 2 clean in a row')
    expect(stageText({ ...FLIGHT, isOpen: false })).toBe('Comes after each hand alone')
    expect(
      stageText(
        { ...FLIGHT, isDone: true, treads: [{ bpm: 72, isReached: true, isClean: true, isHere: false }] },
        'Verse 1',
      ),
    ).toBe('Ready at 72 bpm, learned in Verse 1')
    expect(
      stageText({
        ...FLIGHT,
        meter: IN_SIX,
        isDone: true,
        treads: [{ bpm: 87, isReached: true, isClean: true, isHere: false }],
      }),
    ).toBe('Ready at 58 dotted quarters a minute')
  })
  it('how many passes each step took, those of one tempo together', () => {
    const gate = (bpm: number, passes: number) => ({ bpm, passes, atMs: 0 })
    expect(gatesText({ ...FLIGHT, gates: [gate(43, 16), gate(43, 4), gate(64, 1)] })).toBe(
      '43 bpm after 20 passes, 64 after 1 more',
    )
    expect(gatesText({ ...FLIGHT, gates: [gate(43, 0)] })).toBe('')
  })
  it('how many parts are ready', () =>
    expect([readyText(0, 4), readyText(2, 2), readyText(3, 3), readyText(1, 1)]).toEqual([
      '0 of 4 parts ready',
      'both parts ready',
      'all 3 parts ready',
      'ready',
    ]))
  it('and when it will be ready', () => {
    const date = (ms: number) => new Date(ms).toISOString().slice(0, 10)
    const now = Date.parse('2026-03-01T12:00:00Z')
    const DAY = 86_400_000
    const told = (likely: number, earliest: number, latest: number) =>
      forecastText(
        {
          progress: 0.5,
          minutesPerDay: 12.4,
          forecast: { likelyMs: now + likely * DAY, earliestMs: now + earliest * DAY, latestMs: now + latest * DAY },
        },
        now,
        date,
      )
    expect(told(20, 10, 40)).toBe(
      'At 12 minutes a day, ready around 2026-03-21 (most likely between 2026-03-11 and 2026-04-10).',
    )
    expect(told(500, 400, 900)).toBe('At 12 minutes a day this will take more than a year.')
    expect(told(0, 0, 0)).toBe('Ready.')
    expect(forecastText({ progress: 0.2, minutesPerDay: 0, forecast: null }, now, date)).toContain(
      'after 4 days and about 40 minutes',
    )
  })
})
