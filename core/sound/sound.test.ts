import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { expectedNotes, wholePassage } from '../music/passage'
import { simulatePlayer } from '../players/simulate'
import { CHARACTERS } from '../players/habits'
import { renderPassage, clickEvents } from './of-score'
import { renderTake } from './of-take'
import { CLICK_KEYS, fromTimeZero, oneKeyAtATime, together, withPedal, type SoundEvent } from './performance'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const scoreOf = (...bars: string[]) => readMusicXml(bytesOf(pianoScore(bars))).arrangement
const all = (arrangement: typeof FERRY, bpm?: number) =>
  renderPassage(arrangement, wholePassage(arrangement, 'both'), { hands: ['right', 'left'] }, bpm)
const one = (voice: string, atMs: number, lengthMs: number, pitch = 60): SoundEvent => ({
  voice,
  atMs,
  lengthMs,
  pitch,
  velocity: 70,
})

describe('a performance of a score', () => {
  it('has every note that is to be struck at its time, told by hand', () => {
    const expected = expectedNotes(FERRY, wholePassage(FERRY, 'both'), 72)
    const { events, voices } = all(FERRY, 72)
    expect(voices.map(({ id }) => id)).toEqual(['right', 'left'])
    const told = (list: readonly { voice?: string; hand?: string; pitch: number; atMs?: number; onsetMs?: number }[]) =>
      list
        .map(({ voice, hand, pitch, atMs, onsetMs }) => `${hand ?? voice} ${pitch} ${Math.round(atMs ?? onsetMs!)}`)
        .sort()
    expect(told(events)).toEqual(told(expected))
  })

  it('holds staccato notes short and plays accents louder, in the tempo that is asked for and its changes in proportion', () => {
    const marked = (mark: string) => `<notations><articulations><${mark}/></articulations></notations>`
    const arrangement = scoreOf(
      attributes() +
        '<direction><direction-type><words>x</words></direction-type><sound tempo="60"/></direction>' +
        note({ pitch: 'C4', length: 1, extra: marked('staccato') }) +
        note({ pitch: 'D4', length: 1, extra: marked('accent') }) +
        quarterNotes('E4 F4'),
      '<direction><direction-type><words>y</words></direction-type><sound tempo="120"/></direction>' +
        quarterNotes('C4 D4 E4 F4'),
    )
    const { events, tempos } = all(arrangement, 30)
    expect(events.map(({ atMs }) => atMs)).toEqual([0, 2000, 4000, 6000, 8000, 9000, 10_000, 11_000])
    expect(events[0]!.lengthMs).toBeCloseTo(1000)
    expect(events[2]!.lengthMs).toBeCloseTo(2000)
    expect(events[1]!.velocity).toBeGreaterThan(events[2]!.velocity)
    expect(tempos).toEqual([
      { atMs: 0, quarterBpm: 30 },
      { atMs: 8000, quarterBpm: 60 },
    ])
  })

  it('rolls a chord with a wavy line from below upward', () => {
    const rolled = (pitch: string, chord: boolean) =>
      note({ pitch, length: 4, chord, extra: '<notations><arpeggiate/></notations>' })
    const { events } = all(scoreOf(attributes() + rolled('C4', false) + rolled('E4', true) + rolled('G4', true)), 60)
    expect(events.map(({ pitch }) => pitch)).toEqual([60, 64, 67])
    expect(events.map(({ atMs }) => atMs)).toEqual([0, 35, 70])
    expect(new Set(events.map(({ atMs, lengthMs }) => Math.round(atMs + lengthMs)))).toEqual(new Set([4000]))
  })

  it('has the other roles with their instruments, and only the hands that are asked for', () => {
    const arrangement = {
      ...FERRY,
      others: [
        { name: 'Flute', program: 73, notes: FERRY.notes.slice(0, 5).map(({ hand: _hand, ...rest }) => rest) },
        { name: 'Kit', percussion: true as const, notes: [] },
      ],
    }
    const { voices, events } = renderPassage(arrangement, wholePassage(arrangement, 'both'), {
      hands: ['left'],
      roles: [0, 1],
    })
    expect(voices.map(({ name, instrument }) => [name, instrument.kind])).toEqual([
      ['Left hand', 'piano'],
      ['Flute', 'program'],
      ['Kit', 'drums'],
    ])
    expect(events.filter(({ voice }) => voice === 'role 0')).toHaveLength(5)
    expect(events.some(({ voice }) => voice === 'right')).toBe(false)
  })

  it('begins at time 0 where that is wished: a grace note before the first beat is crushed into it', () => {
    const arrangement = scoreOf(
      attributes() + note({ pitch: 'B3', length: 0, before: '<grace slash="yes"/>' }) + quarterNotes('C4 D4 E4 F4'),
    )
    expect(all(arrangement).events[0]!.atMs).toBeLessThan(0)
    expect(
      fromTimeZero(all(arrangement))
        .events.map(({ atMs }) => atMs)
        .slice(0, 2),
    ).toEqual([0, 0])
  })

  it('clicks in three tones', () => {
    expect(
      clickEvents([
        { atMs: 0, downbeat: true, beat: 1 },
        { atMs: 1, downbeat: false, beat: 1, isFiner: true },
        { atMs: 2, downbeat: false, beat: 2 },
      ]).map(({ pitch }) => pitch),
    ).toEqual([CLICK_KEYS.downbeat, CLICK_KEYS.finer, CLICK_KEYS.beat])
  })
})

describe('voices', () => {
  it('sound one key at a time: a note ends before the next of its key, two at once are one', () => {
    expect(
      oneKeyAtATime([one('a', 0, 1000), one('b', 0, 1000), one('a', 500, 100)]).map(({ lengthMs }) => lengthMs),
    ).toEqual([490, 1000, 100])
    expect(oneKeyAtATime([one('a', 0, 100), one('a', 0, 900)]).map(({ lengthMs }) => lengthMs)).toEqual([900])
  })

  it('without a pedal of their own are held as long as the pedal holds', () => {
    const pedals = [
      { voice: 'a', atMs: 100, down: true },
      { voice: 'a', atMs: 2000, down: false },
      { voice: 'a', atMs: 3000, down: true },
    ]
    const held = withPedal({
      voices: [],
      events: [one('a', 0, 50), one('a', 200, 100, 62), one('a', 2500, 100, 64), one('a', 3100, 10, 65)],
      pedals,
      tempos: [],
      lengthMs: 4000,
    })
    expect(held.map(({ lengthMs }) => lengthMs)).toEqual([50, 1800, 100, 900])
  })

  it('of several performances sound together, in order', () => {
    const both = together([
      { voices: [], events: [one('a', 5, 1), one('a', 20, 1)], pedals: [], tempos: [], lengthMs: 30 },
      {
        voices: [],
        events: [one('b', 1, 1), one('b', 10, 1)],
        pedals: [],
        tempos: [{ atMs: 0, quarterBpm: 90 }],
        lengthMs: 50,
      },
    ])
    expect(both.events.map(({ atMs }) => atMs)).toEqual([1, 5, 10, 20])
    expect([both.lengthMs, both.tempos[0]!.quarterBpm]).toEqual([50, 90])
  })
})

describe('a take played back', () => {
  const expected = expectedNotes(FERRY, wholePassage(FERRY, 'both'), 80)
  const { take } = simulatePlayer(expected, CHARACTERS.good, 4)

  it('is exactly as it was played, and with its deviations doubled twice as far from the page', () => {
    expect(renderTake(take, { bpm: 80 }).events.map(({ atMs, pitch }) => [atMs, pitch])).toEqual(
      take.notes.map(({ onsetMs, pitch }) => [onsetMs, pitch]),
    )
    const late = renderTake(
      {
        notes: [0, 1010, 1980].map((onsetMs, index) => ({ onsetMs, durationMs: 100, pitch: 60 + index, velocity: 60 })),
        pedals: [],
      },
      { bpm: 60, exaggerate: 2, deviationOf: played => [0, 10, -20][played] },
    )
    expect(late.events.map(({ atMs }) => atMs)).toEqual([0, 1020, 1960])
  })

  it('as written with 0, and what stands for nothing goes with the note before it', () => {
    const played = renderTake(
      {
        notes: [30, 500, 990].map((onsetMs, index) => ({ onsetMs, durationMs: 100, pitch: 60 + index, velocity: 60 })),
        pedals: [],
      },
      { bpm: 60, exaggerate: 0, deviationOf: played => [30, undefined, -10][played] },
    )
    expect(played.events.map(({ atMs }) => atMs)).toEqual([0, 470, 1000])
  })
})

it('two hands and a backup in one bar are performed together', () => {
  const { events } = all(
    scoreOf(
      attributes({ staves: 2 }) +
        quarterNotes('C5 D5 E5 F5', 1) +
        backup(4) +
        note({ pitch: 'C3', length: 4, staff: 2 }),
    ),
    60,
  )
  expect(events.filter(({ atMs }) => atMs === 0).map(({ voice }) => voice)).toEqual(['left', 'right'])
})
