import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { quarters } from '../music/quarters'
import { notesKey } from '../parts/notes-key'
import { proposeParts } from '../parts/propose'
import { comingDays } from './coming-days'
import { cutText } from '../words/coach'
import { suggestCuts } from './cuts'
import { daysBetween, daysIn } from './days'
import { errorMap, hardestBar, inSpans } from './error-map'
import { gateOf } from './gate'
import type { PastPass } from './pass'
import { coachSettings } from './settings'
import { afterPasses, startRecord } from './record'
import { progressOf, nextOfStage, planSong, progressAfter } from './song-plan'
import { stairsOf } from './stairs'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: `part ${place}` }))
const plan = planSong(
  arrangement,
  parts,
  coachSettings({ school: 'turns', gate: 3, ownTimeGate: 2, firstHand: 'left' }),
)
const DAY_MS = 86_400_000
let clock = 0
const pass = (place: number, hands: 'right' | 'left' | 'both', bpm: number, own: Partial<PastPass> = {}): PastPass => {
  const { from, to } = parts[place]!
  return {
    key: notesKey(arrangement, { from, to }, hands),
    stretch: { from, to },
    hands,
    mode: 'steady',
    bpm,
    clean: true,
    right: 14,
    notes: 14,
    failed: [],
    atMs: (clock += 20_000),
    lengthMs: 10_000,
    ...own,
  }
}
const times = (count: number, make: () => PastPass) => Array.from({ length: count }, make)
const stairs = (passes: PastPass[]) => stairsOf(plan, progressAfter(plan, passes), passes)

describe('the stairs', () => {
  it('stand before the first pass in own time, with every stage and join, and say what comes first', () => {
    const { parts: stages, joins, progress, next } = stairs([])
    expect(stages).toHaveLength(parts.length)
    expect(stages[0]!.map(progress => [progress.hands, progress.isOpen, progress.ownTime?.gate])).toEqual([
      ['left', true, 2],
      ['right', true, 2],
      ['both', false, 2],
    ])
    expect(joins.filter(join => join.kind === 'seam')).toHaveLength(parts.length - 1)
    expect(joins.at(-1)).toMatchObject({ kind: 'song', isOpen: false })
    expect(progress).toBe(0)
    expect(next).toMatchObject({ kind: 'part', first: 0, hands: 'left', mode: 'own-time', isWhole: true })
  })
  it('show what was reached, what was only played clean, and where the player stands', () => {
    const bpm = plan.ranges.get(notesKey(arrangement, parts[0]!, 'left'))!.steps[2]!
    const [left] = stairs([...times(2, () => pass(0, 'left', bpm, { mode: 'own-time' })), pass(0, 'left', bpm)])
      .parts[0]!
    expect(left!.treads[0]).toMatchObject({ bpm, isReached: false, isClean: true, isHere: false })
    expect(left!.treads[1]).toMatchObject({ isHere: true })
    const failed = { clean: false, right: 10 }
    const [met] = stairs([pass(0, 'left', bpm, failed), ...times(3, () => pass(0, 'left', bpm))]).parts[0]!
    expect(met!.treads[0]).toMatchObject({ isReached: true })
    // Three quarters of the tempo are enough for a hand alone: together may begin.
    expect(met!.isDone).toBe(true)
    expect(left!.gate).toEqual({ inARow: 0, of: 3 })
  })
  it('twins stand alike, and a hard spot is named with its place', () => {
    const bpm = 72
    const at = plan.ranges.get(notesKey(arrangement, parts[0]!, 'left'))!.onsets[6]!
    const hard = [
      pass(0, 'left', bpm, { mode: 'own-time' }),
      ...times(4, () => pass(0, 'left', bpm, { clean: false, right: 13, failed: [at] })),
    ]
    const shown = stairs(hard)
    expect(shown.parts[0]![0]!.spot?.place.from.bar).toBeGreaterThan(0)
    expect(shown.parts[6]![0]).toEqual(shown.parts[0]![0])
    expect(shown.next).toMatchObject({ isSpot: true, isWhole: false })
  })
  it('a place that was mended is named where it stands in each twin', () => {
    const stage = plan.stages.find(one => one.unit.kind === 'part' && one.unit.first === 0 && one.hands === 'left')!
    const at = plan.ranges.get(stage.key)!.onsets[6]!
    const passes = [
      pass(0, 'left', 72, { mode: 'own-time' }),
      ...times(4, () => pass(0, 'left', 72, { clean: false, right: 13, failed: [at] })),
    ]
    for (let count = 0; count < 40 && progressOf(progressAfter(plan, passes), stage).mended.length === 0; count++) {
      const { stretch, mode, bpm } = nextOfStage(plan, progressAfter(plan, passes), stage)
      passes.push(pass(0, 'left', bpm, { key: notesKey(arrangement, stretch, 'left'), stretch, mode }))
    }
    const barOf = (place: number) => stairs(passes).parts[place]![0]!.mended[0]!.bar
    expect(barOf(6) - barOf(0)).toBe(24)
  })
})

describe('the gate of what is played', () => {
  const stretch = { from: parts[0]!.from, to: parts[0]!.to }
  const at = plan.ranges.get(notesKey(arrangement, parts[0]!, 'left'))!.onsets[6]!
  it('counts own time and the click each for itself, and a hard place for itself', () => {
    const waiting = progressAfter(plan, [pass(0, 'left', 72, { mode: 'own-time' })])
    expect(gateOf(plan, waiting, stretch, 'left', true)).toEqual({ inARow: 1, of: 2, isOwnTime: true })
    expect(gateOf(plan, waiting, stretch, 'left', false)).toEqual({ inARow: 0, of: 3, isOwnTime: false })
    const hard = progressAfter(plan, [
      pass(0, 'left', 72, { mode: 'own-time' }),
      ...times(4, () => pass(0, 'left', 72, { clean: false, right: 13, failed: [at] })),
    ])
    const { spot } = [...hard.stages.values()].find(progress => progress.spot)!
    expect(gateOf(plan, hard, spot!.loop, 'left', false)).toEqual({ inARow: 0, of: 3, isOwnTime: false })
  })
  it('is none of a stretch that is nothing', () =>
    expect(
      gateOf(plan, progressAfter(plan, []), { from: quarters(3), to: quarters(4) }, 'left', false),
    ).toBeUndefined())
})

describe('days', () => {
  it('begin and end where the player is', () => {
    const at = Date.UTC(2026, 2, 1, 23, 30)
    expect([
      daysIn('UTC')(at),
      daysIn('Asia/Tokyo')(at),
      daysIn('America/Los_Angeles')(at),
      daysIn('Asia/Kathmandu')(at),
    ]).toEqual(['2026-03-01', '2026-03-02', '2026-03-01', '2026-03-02'])
    expect(() => daysIn('Nowhere/Town')).toThrow(RangeError)
  })
  it('are counted by the calendar: an hour over midnight is a day, and so is one with 25 hours', () => {
    const dayOf = daysIn('Europe/Vienna')
    const at = (text: string) => Date.parse(text)
    expect(daysBetween(at('2026-03-01T22:30:00Z'), at('2026-03-01T23:30:00Z'), dayOf)).toBe(1)
    expect(daysBetween(at('2026-03-01T06:00:00Z'), at('2026-03-01T20:00:00Z'), dayOf)).toBe(0)
    // The clocks go back on 25 October 2026.
    expect(daysBetween(at('2026-10-24T22:30:00Z'), at('2026-10-25T22:30:00Z'), dayOf)).toBe(0)
    expect(daysBetween(at('2026-10-24T21:30:00Z'), at('2026-10-26T23:30:00Z'), dayOf)).toBe(3)
  })
  it('to come have the reviews that fall on them, what is overdue on the first', () => {
    const steps = (['left', 'right', 'both'] as const).flatMap(hands =>
      plan.ranges
        .get(notesKey(arrangement, parts[0]!, hands))!
        .steps.slice(2)
        .flatMap(bpm => times(4, () => pass(0, hands, bpm))),
    )
    const song = {
      songId: 's',
      title: 'Song',
      plan,
      record: afterPasses(plan, startRecord(plan), steps, daysIn('UTC')),
    }
    const late = comingDays([song], clock + 40 * DAY_MS, 5, daysIn('UTC'))
    expect(late).toHaveLength(5)
    expect(late[0]!.reviews).toEqual([{ title: 'Song', part: parts[0]!.name }])
    const soon = comingDays([song], clock, 14, daysIn('UTC'))
    expect(soon.flatMap(day => day.reviews)).toHaveLength(1)
    expect(soon[0]!.reviews).toEqual([])
  })
})

describe('the error map', () => {
  it('has the share of passes that failed in each bar they went over, by day', () => {
    const stretch = { from: quarters(1), to: quarters(9) }
    const map = errorMap(
      arrangement,
      [
        { atMs: 0, stretch, failed: [quarters(2)] },
        { atMs: 1000, stretch, failed: [] },
        { atMs: DAY_MS, stretch: { from: quarters(5), to: quarters(9) }, failed: [quarters(5), quarters(6)] },
      ],
      daysIn('UTC'),
    )
    expect(map.days).toEqual(['1970-01-01', '1970-01-02'])
    expect(map.bars).toEqual([1, 2])
    expect(map.shares).toEqual([
      [0.5, null],
      [0, 1],
    ])
    expect(map.passes).toEqual([
      [2, 0],
      [2, 1],
    ])
    // Of bar 1 one pass of two failed, of bar 2 one of three: days do not count alike, passes do.
    expect(hardestBar(map, 5)).toEqual({ bar: 1, share: 0.5 })
    expect(hardestBar(map, 1)).toEqual({ bar: 2, share: 1 })
    expect(
      hardestBar(
        {
          ...map,
          shares: [
            [0, null],
            [0, 0],
          ],
        },
        5,
      ),
    ).toBeUndefined()
    expect(inSpans(map, 1)).toEqual({
      spans: [{ from: '1970-01-01', to: '1970-01-02' }],
      bars: [1, 2],
      shares: [[1 / 2], [1 / 3]],
    })
    expect(inSpans(map, 2).shares).toEqual(map.shares)
    expect(inSpans({ days: [], bars: [], shares: [], passes: [] }, 2).spans).toEqual([])
  })
})

describe('what to cut when it will not fit', () => {
  const left = { likely: 600, least: 500, most: 800 }
  it('names a lower tempo, fewer parts, the hand that holds it up, or more minutes, with figures', () => {
    const onlyRight = parts.flatMap((_, place) =>
      plan.ranges
        .get(notesKey(arrangement, parts[place]!, 'right'))!
        .steps.slice(2)
        .flatMap(bpm => times(4, () => pass(place, 'right', bpm))),
    )
    const cuts = suggestCuts(plan, progressAfter(plan, onlyRight), left, 20, 0, 15 * DAY_MS)
    expect(cuts.map(cut => cut.kind)).toEqual(['tempo', 'parts', 'hand', 'time'])
    expect(cuts.find(cut => cut.kind === 'hand')).toMatchObject({ hand: 'left', parts: 8 })
    expect(cuts.find(cut => cut.kind === 'time')).toMatchObject({ minutes: 40, insteadOf: 20 })
    expect(cuts.find(cut => cut.kind === 'parts')).toMatchObject({ parts: 8 })
    expect(cuts.map(cutText).join(' ')).toContain('The left hand is what takes longest, in 8 parts')
  })
  it('does not promise hours a day', () =>
    expect(suggestCuts(plan, progressAfter(plan, []), left, 20, 0, 5 * DAY_MS).some(cut => cut.kind === 'time')).toBe(
      false,
    ))
})
