import { describe, expect, it } from 'vitest'
import type { ExpectedNote } from '../music/passage'
import { seededChance } from '../players/randomness'
import { createFollower, follow } from './follow'
import { groupScoreEvents } from './score-events'
import { DEFAULT_EAR } from './parameters'
import { attemptsOf } from './runs'

const BEAT = 500
const expected = (index: number, pitch: number, more: Partial<ExpectedNote> = {}): ExpectedNote => ({
  id: `n${index}-${pitch}`,
  hand: 'right',
  bar: 1 + Math.floor(index / 4),
  barIndex: Math.floor(index / 4),
  beat: 1 + (index % 4),
  pitch,
  spelled: '',
  onsetMs: index * BEAT,
  durationMs: BEAT,
  grace: false,
  eventMs: index * BEAT,
  quarterMs: BEAT,
  voice: '1',
  time: 1,
  ...more,
})
const MELODY = [60, 64, 62, 65, 67, 72, 69, 71, 74, 70, 66, 63]
const MOMENTS = groupScoreEvents(MELODY.map((pitch, index) => expected(index, pitch)))
const strokes = (list: [beat: number, pitch: number][]) =>
  list.map(([beat, pitch]) => ({ onsetMs: beat * BEAT, pitch }))
const inOrder = (from: number, to: number, startBeat: number): [number, number][] =>
  MELODY.slice(from, to).map((pitch, index) => [startBeat + index, pitch])
const ways = (list: [number, number][], steady: boolean) =>
  follow({ events: MOMENTS, strokes: strokes(list), steady, beatMs: BEAT, following: DEFAULT_EAR.following })

describe('score-events', () => {
  it('gather chords, and a grace note with the note it leads to', () => {
    const events = groupScoreEvents(
      [expected(0, 59, { onsetMs: -80, grace: true }), expected(0, 60), expected(0, 64), expected(1, 62)].sort(
        (a, b) => a.onsetMs - b.onsetMs,
      ),
    )
    expect(events.map(event => event.pitches)).toEqual([[59, 60, 64], [62]])
    expect(events.map(event => event.startsBar)).toEqual([true, false])
  })

  it('let the keys of a trill be struck freely as long as it sounds', () => {
    const events = groupScoreEvents([
      expected(0, 72, { ornaments: ['trill-mark'], durationMs: 2 * BEAT }),
      expected(1, 48),
      expected(3, 50),
    ])
    expect(events.map(event => event.free.includes(74))).toEqual([true, true, false])
  })
})

describe.each([
  ['with a click', true],
  ['without a click', false],
] as const)('following %s', (_name, steady) => {
  it('goes from moment to moment', () => {
    expect(ways(inOrder(0, 12, 0), steady).map(step => step.event)).toEqual([...MELODY.keys()])
  })

  it('takes a wrong key for the note in its place', () => {
    const list = inOrder(0, 12, 0)
    list[5]![1] += 1
    expect(ways(list, steady)[5]).toEqual({ event: 5, kind: 'wrong', jumped: false })
  })

  it('passes over a missing note and a stray key', () => {
    const list: [number, number][] = [...inOrder(0, 4, 0), [3.4, 80], ...inOrder(5, 12, 5)]
    const steps = ways(list, steady)
    expect(steps[4]).toMatchObject({ kind: 'extra' })
    expect(steps.slice(5).map(step => step.event)).toEqual([5, 6, 7, 8, 9, 10, 11])
    expect(steps.some(step => step.jumped)).toBe(false)
  })

  it('jumps back once for a restart, and its runs overlap', () => {
    const steps = ways([...inOrder(0, 8, 0), ...inOrder(4, 12, 9.5)], steady)
    expect(steps.filter(step => step.jumped)).toEqual([{ event: 4, kind: 'match', jumped: true }])
    const { runs, runOfEvent, runOfStroke, restarts } = attemptsOf(steps, MELODY.length)
    expect(runs.map(run => [run.firstEvent, run.lastEvent])).toEqual([
      [0, 7],
      [4, 11],
    ])
    expect([...runOfEvent]).toEqual([0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1])
    expect([...runOfStroke.slice(4, 8)]).toEqual([-1, -1, -1, -1])
    expect(restarts).toBe(1)
  })

  it('leaves strokes before the music outside it', () => {
    const steps = ways([[-3, 90], [-2.5, 91], ...inOrder(0, 12, 0)], steady)
    expect(steps.slice(0, 3).map(step => step.event)).toEqual([-1, -1, 0])
  })
})

describe('an attempt that was begun again and given up', () => {
  it('does not replace the one that went on further', () => {
    const steps = ways([...inOrder(0, 12, 0), ...inOrder(6, 11, 14)], false)
    const { runOfEvent, runOfStroke, restarts } = attemptsOf(steps, MELODY.length)
    expect(new Set(runOfEvent)).toEqual(new Set([0]))
    expect([...runOfStroke.slice(12)]).toEqual([-1, -1, -1, -1, -1])
    expect(restarts).toBe(1)
  })
})

describe('a follower that takes one stroke after the other', () => {
  it('knows the place at once, also after a jump of many bars', () => {
    const chance = seededChance(5)
    const long = Array.from({ length: 400 }, (_, index) => expected(index, 48 + Math.floor(37 * chance.uniform())))
    const follower = createFollower({
      events: groupScoreEvents(long),
      steady: false,
      beatMs: BEAT,
      following: DEFAULT_EAR.following,
    })
    let atMs = 0
    const play = (from: number, to: number) => {
      for (const note of long.slice(from, to)) follower.advance(note.pitch, (atMs += BEAT))
    }
    expect(follower.place()).toBe(-1)
    play(0, 30)
    expect(follower.place()).toBe(29)
    play(300, 308)
    expect(follower.place()).toBe(307)
  })

  it('has nowhere to be in empty music', () => {
    expect(
      follow({
        events: [],
        strokes: strokes([[0, 60]]),
        steady: true,
        beatMs: BEAT,
        following: DEFAULT_EAR.following,
      }),
    ).toEqual([{ event: -1, kind: 'extra', jumped: false }])
  })
})
