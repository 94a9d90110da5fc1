/** The course of the tempo, read off takes whose tempo is written down here. */
import { describe, expect, it } from 'vitest'
import { backup, note, quarterNotes } from '../../tests/material/score'
import { score, played, type Change, type Score } from '../../tests/material/takes'
import { expectedNotes, wholePassage } from '../music/passage'
import { seededChance } from '../players/randomness'
import { alignTake } from './align'
import { DEFAULT_EAR } from './parameters'
import { segmentTempo } from './tempo-segmentation'
import { interpretTempo } from './tempo-heard'

const BARS = [
  'C4 E4 D4 F4',
  'G4 F4 A4 E4',
  'D4 B4 C5 G4',
  'A4 F4 G4 E4',
  'F4 D4 E4 C4',
  'G4 B3 D4 C4',
  'E4 G4 F4 A4',
  'B4 G4 D4 C4',
  'C5 A4 F4 D4',
  'E4 C4 D4 B3',
  'A4 G4 F4 E4',
  'D4 E4 B3 C4',
]
const LINE = score(BARS.map(bar => quarterNotes(bar)))
const HANDS = score(
  BARS.map(
    bar =>
      quarterNotes(bar, 1) +
      backup(4) +
      note({ pitch: 'C3', length: 2, staff: 2 }) +
      note({ pitch: 'G3', length: 2, staff: 2 }),
  ),
  { staves: 2 },
)
const BAR_MS = 2000

function hear(arrangement: Score, change: Change, steady = true) {
  const expected = expectedNotes(arrangement, wholePassage(arrangement, 'both'), 120)
  const strokes = played(arrangement, change)
  const alignment = alignTake({
    expected,
    played: strokes,
    steady,
    beatMs: 500,
    ear: DEFAULT_EAR,
    bars: arrangement.bars,
  })
  const course = segmentTempo(expected, strokes, alignment, steady, DEFAULT_EAR.tempo)
  return { ...course, ...interpretTempo(arrangement, expected, course, steady, DEFAULT_EAR.tempo) }
}
/** A take's clock: between two score times the tempo is so many times as slow. */
const slowBetween = (fromMs: number, toMs: number, times: number) => (atMs: number) =>
  atMs + (Math.min(Math.max(atMs, fromMs), toMs) - fromMs) * (times - 1)
const along =
  (clock: (atMs: number) => number): Change =>
  ({ eventMs: eventMs }, index) => ({ onsetMs: clock(eventMs) + ((index * 7) % 11) - 5 })

describe('the course of a tempo', () => {
  it('is one stretch without a break where one tempo is kept', () => {
    const course = hear(
      LINE,
      along(atMs => atMs),
    )
    expect(course.segments).toHaveLength(1)
    expect(course.breaks).toEqual([])
    expect(course.segments[0]!.ratio).toBeCloseTo(1, 2)
    expect([course.usual, course.whole, course.sections, course.entries]).toEqual([1, undefined, [], []])
  })

  it.each([0.7, 1.25, 1.4, 1.6])('keeps the click’s level and finds the tempo of a take %f times as slow', times => {
    const course = hear(
      LINE,
      along(atMs => atMs * times),
    )
    expect(course.segments).toHaveLength(1)
    expect(course.usual).toBeCloseTo(times, 2)
    expect(course.whole).toBeCloseTo(1 / times, 2)
  })

  it.each([true, false])('finds three slower bars to the moment, with a click: %s', steady => {
    const {
      segments,
      played: events,
      sections,
      breaks,
    } = hear(LINE, along(slowBetween(4 * BAR_MS, 7 * BAR_MS, 1.4)), steady)
    expect(segments).toHaveLength(3)
    expect(breaks).toEqual([])
    expect(segments[1]!.ratio / segments[0]!.ratio).toBeCloseTo(1.4, 1)
    expect(Math.abs(events[segments[1]!.first]!.atMs - 4 * BAR_MS)).toBeLessThanOrEqual(500)
    expect(Math.abs(events[segments[1]!.last]!.atMs - 7 * BAR_MS)).toBeLessThanOrEqual(500)
    expect(sections).toMatchObject([{ fromBarIndex: 4, toBarIndex: 6 }])
  })

  it.each([true, false])('tells a pause from a slower tempo: one step, and how long, with a click: %s', steady => {
    const {
      segments,
      breaks,
      played: events,
      sections,
    } = hear(
      LINE,
      along(atMs => atMs + (atMs >= 5 * BAR_MS ? 900 : 0)),
      steady,
    )
    expect(segments).toHaveLength(1)
    expect(breaks).toHaveLength(1)
    expect(events[breaks[0]!.at]!.atMs).toBe(5 * BAR_MS)
    expect(Math.abs(breaks[0]!.ms - 900)).toBeLessThan(30)
    expect(sections).toEqual([])
  })

  it('a pause that is made up by the end, with a click, is a pause and no other tempo', () => {
    const short = score(
      [
        quarterNotes('C4 E4 D4'),
        note({ pitch: 'F4', length: 1 }) +
          note({ pitch: 'G4', length: 0.5 }) +
          note({ pitch: 'A4', length: 0.5 }) +
          note({ pitch: 'F4', length: 1 }),
      ],
      { beats: 3 },
    )
    // More than half a beat is lost before the second bar; then each beat is a fifth shorter until the click is nearly
    // caught up with.
    const strikes = [0, 502, 1010, 1829, 2219, 2396, 2602]
    const change: Change = (_one, index) => ({ onsetMs: strikes[index]! })
    const { usual, whole, breaks, played: events } = hear(short, change)
    expect([usual, whole]).toEqual([1, undefined])
    expect(breaks.filter(one => one.ms > 200).map(one => events[one.at]!.atMs)).toEqual([1500])
    // Without the pause the same beats are a faster tempo.
    expect(hear(short, ({ eventMs: eventMs }) => ({ onsetMs: 0.8 * eventMs })).usual).toBeCloseTo(0.8, 2)
  })

  it('a beat and a half held longer is no tempo of its own', () => {
    expect(hear(LINE, along(slowBetween(4 * BAR_MS, 4 * BAR_MS + 750, 1.5))).sections).toEqual([])
  })

  it('takes a hand that lags for that and no slower tempo', () => {
    const course = hear(HANDS, one => ({ onsetMs: one.eventMs + (one.hand === 'left' ? 20 : 0) }))
    expect(course.leftBehindMs).toBe(20)
    expect(course.segments).toHaveLength(1)
    expect(course.segments[0]!.levelMs).toBeCloseTo(0, 0)
  })

  it('reads the unsteadiness off single moments, not off a tempo that changes', () => {
    // By chance to 25 ms either side, the same at every run: a standard deviation of 14.
    const chance = seededChance(5)
    const unsteady =
      (clock: (atMs: number) => number): Change =>
      ({ eventMs: eventMs }) => ({ onsetMs: clock(eventMs) + 50 * (chance.uniform() - 0.5) })
    for (const clock of [(atMs: number) => atMs, slowBetween(4 * BAR_MS, 8 * BAR_MS, 1.5)]) {
      const { unsteadinessMs } = hear(LINE, unsteady(clock))
      expect(unsteadinessMs).toBeGreaterThan(8)
      expect(unsteadinessMs).toBeLessThan(24)
    }
  })

  it('of nothing, or of one note, says nothing', () => {
    for (const count of [0, 1]) {
      const course = hear(LINE, (_one, index) => (index < count ? {} : undefined))
      expect(course).toMatchObject({ breaks: [], usual: 1, sections: [], counting: [], entries: [] })
      expect(course.segments).toHaveLength(count)
    }
  })
})

describe('what a teacher hears in it', () => {
  it('an entry a beat late, and that it is no pause', () => {
    const { entries, explained, breaks } = hear(
      LINE,
      along(atMs => atMs + 500),
    )
    expect(entries).toMatchObject([{ at: 0, beats: 1 }])
    expect(explained.size).toBe(breaks.length)
  })

  it('a lost beat in every bar of five is a way of counting; the same once is not', () => {
    const five = score(
      BARS.map((bar, index) => quarterNotes(`${bar} ${['C4', 'F4', 'G4'][index % 3]}`)),
      { beats: 5 },
    )
    const every = hear(
      five,
      along(atMs => atMs + 500 * Math.floor((atMs + 1) / 2500)),
    )
    expect(every.counting).toMatchObject([{ counted: 6, written: 5, meter: { beats: 5, beatType: 4 } }])
    expect(every.counting[0]!.barIndices.length).toBeGreaterThanOrEqual(BARS.length - 2)
    expect(
      hear(
        five,
        along(atMs => atMs + (atMs >= 10_000 ? 500 : 0)),
      ).counting,
    ).toEqual([])
  })

  it('nothing, where the score asks to slow down (common practice)', () => {
    const slower = score(
      BARS.map(
        (bar, index) =>
          (index === 8 ? '<direction><direction-type><words>rit.</words></direction-type></direction>' : '') +
          quarterNotes(bar),
      ),
    )
    const clock = slowBetween(8 * BAR_MS, 12 * BAR_MS, 1.35)
    expect(hear(slower, along(clock), false).sections).toEqual([])
    expect(hear(LINE, along(clock), false).sections).toMatchObject([{ toBarIndex: 11 }])
  })

  it('freedom at the end of a phrase, without a click, is no fault (common practice); over a click it is not with it', () => {
    const clock = slowBetween(7 * BAR_MS, 8 * BAR_MS, 1.25)
    expect(hear(LINE, along(clock), false).sections).toEqual([])
    expect(hear(LINE, along(slowBetween(7 * BAR_MS, 9 * BAR_MS, 1.4)), true).sections).toMatchObject([
      { fromBarIndex: 7, toBarIndex: 8 },
    ])
  })
})
