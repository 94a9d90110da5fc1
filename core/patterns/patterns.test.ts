import { Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { readSong } from '../formats/read-score'
import type { Arrangement } from '../music/arrangement'
import { wholePassage } from '../music/passage'
import { harmonyOf } from '../music/song-harmony'
import { compare, toDecimal } from '../music/quarters'
import { DRUM_KEYS, fits, row } from './pattern'
import { performSection } from './rhythm-section'
import { cycleFor, metersOf, STYLE_BOOKS, STYLES, type Style } from './styles'

const chart = (text: string): Arrangement => readSong(new TextEncoder().encode(text), 'a.txt').arrangement
const section = (arrangement: Arrangement, style: Style, bpm = 60, lastBars?: Set<number>) =>
  performSection({ arrangement, passage: wholePassage(arrangement, 'both'), style, bpm, lastBars })
const times = (events: ReturnType<typeof section>['events'], voice: string, pitch?: number) =>
  events
    .filter(event => event.voice === voice && (pitch === undefined || event.pitch === pitch))
    .map(({ atMs }) => Math.round(atMs))

describe('a pattern', () => {
  it('is written as a row of signs: accents, soft notes, held notes', () => {
    expect(row('kick', 'X.o-|x...')).toEqual([
      { step: 0, length: 1, tone: 'kick', accent: 1 },
      { step: 2, length: 2, tone: 'kick', accent: -1 },
      { step: 4, length: 1, tone: 'kick' },
    ])
    expect(() => row('kick', 'X.?')).toThrow(/"\?" at step 3/)
  })

  it('in thirds of a beat fits 12/8 and, as triplets, 4/4; in quarters of a beat only 4/4', () => {
    const [thirds, fourths] = [3, 4].map(division => ({ beats: 4, division: division as 3 | 4, notes: [] }))
    expect([fits(thirds!, { beats: 12, beatType: 8 }), fits(thirds!, { beats: 4, beatType: 4 })]).toEqual([true, true])
    expect([
      fits(fourths!, { beats: 12, beatType: 8 }),
      fits(fourths!, { beats: 4, beatType: 4 }),
      fits(fourths!, { beats: 3, beatType: 4 }),
    ]).toEqual([false, true, false])
  })

  it.each(STYLES)('%s: every row is as long as its bar', style => {
    for (const { bars } of STYLE_BOOKS[style].cycles) {
      for (const { drums, bass, chords } of bars) {
        for (const { beats, division, notes } of [drums, bass, chords]) {
          for (const { step, length } of notes) expect(step + length).toBeLessThanOrEqual(beats * division)
        }
      }
    }
    expect(metersOf(style).length).toBeGreaterThan(0)
  })
})

describe('a rhythm section', () => {
  const FOUR = chart('key: C\nmeter: 4/4\n| C | Am | F | G7 |\n')

  it('plays the clave of the bossa where it is taught: 0, 3, 6, 10 and 13 sixteenths (common practice)', () => {
    const sixteenthMs = 250
    expect(times(section(FOUR, 'bossa').events, 'drums', DRUM_KEYS.stick).slice(0, 5)).toEqual(
      [0, 3, 6, 10, 13].map(step => step * sixteenthMs),
    )
    // Over two bars of eighths, where those sixteenths would be too fast.
    expect(times(section(FOUR, 'bossa', 140).events, 'drums', DRUM_KEYS.stick).slice(0, 5)).toEqual(
      [0, 3, 6, 10, 13].map(step => Math.round((step * 30_000) / 140)),
    )
  })

  it('plays a waltz with the bass on 1 and the chord on 2 and 3 (common practice)', () => {
    const { events } = section(chart('key: G\nmeter: 3/4\n| G | D7 |\n'), 'waltz')
    expect(times(events, 'bass')).toEqual([0, 3000])
    expect([...new Set(times(events, 'chords'))]).toEqual([1000, 2000, 4000, 5000])
  })

  it('shuffles two to one, and swings as far as the score does where it says so', () => {
    const hats = times(section(FOUR, 'shuffle').events, 'drums', DRUM_KEYS.closedHat)
    expect(hats.slice(0, 4)).toEqual([0, 667, 1000, 1667])
    const swung: Arrangement = { ...FOUR, swings: [{ onset: { n: 0, d: 1 }, unit: 'eighth', ratio: 1.5 }] }
    expect(times(section(swung, 'shuffle').events, 'drums', DRUM_KEYS.closedHat).slice(0, 2)).toEqual([0, 600])
    expect(times(section(swung, 'eighths').events, 'drums', DRUM_KEYS.closedHat).slice(0, 2)).toEqual([0, 600])
    expect(times(section(FOUR, 'eighths').events, 'drums', DRUM_KEYS.closedHat).slice(0, 2)).toEqual([0, 500])
  })

  it('has the backbeat on 2 and 4, in half time on 3 (common practice)', () => {
    expect(times(section(FOUR, 'eighths').events, 'drums', DRUM_KEYS.snare).slice(0, 2)).toEqual([1000, 3000])
    expect(times(section(FOUR, 'half-time').events, 'drums', DRUM_KEYS.snare).slice(0, 2)).toEqual([2000, 6000])
  })

  it.each(
    STYLES.flatMap(style => ['2/4', '3/4', '4/4', '6/8', '12/8', '5/4', '7/8'].map(meter => [style, meter] as const)),
  )('%s in %s: the bass stands under each chord, and nothing sounds that is not of it', (style, meter) => {
    const song = chart(`key: C\nmeter: ${meter}\n| C | Am7 | F/A | G7 |\n| Dm | Bdim | Em7b5 | Cmaj7 |\n`)
    const harmonies = harmonyOf(song)
    const { events, lengthMs } = section(song, style, 80)
    const at = (event: (typeof events)[number]) => harmonies.findLast(({ onset }) => compare(onset, event.onset!) <= 0)!
    for (const event of events) expect(event.atMs + Math.min(event.lengthMs, 1)).toBeLessThanOrEqual(lengthMs)
    for (const event of events.filter(({ voice }) => voice === 'chords'))
      expect(at(event).notes.map(name => Note.chroma(name))).toContain(event.pitch % 12)
    for (const harmony of harmonies) {
      const first = events.find(event => event.voice === 'bass' && compare(event.onset!, harmony.onset) >= 0)!
      // The second bar of a waltz steps to the fifth, which is as common.
      const allowed = style === 'waltz' ? [harmony.bass, ...harmony.notes] : [harmony.bass]
      if (toDecimal(first.onset!) === toDecimal(harmony.onset))
        expect(allowed.map(name => Note.chroma(name))).toContain(first.pitch % 12)
    }
    expect(events.some(({ voice }) => voice === 'drums')).toBe(true)
    expect(cycleFor(style, song.bars[0]!.meter, 80).length).toBeGreaterThan(0)
  })

  it('takes up a chord that changes where the pattern strikes nothing', () => {
    const { events } = section(chart('key: C\nmeter: 4/4\n| C / / G |\n'), 'half-time')
    const bass = events.filter(({ voice }) => voice === 'bass')
    expect(bass.find(({ atMs }) => atMs === 3000)!.pitch % 12).toBe(7)
    expect(bass.every(({ atMs, lengthMs }) => atMs >= 3000 || atMs + lengthMs <= 3000)).toBe(true)
  })

  it('leads from one part to the next with a fill, and takes up the next with a cymbal', () => {
    const { events } = section(FOUR, 'eighths', 60, new Set([1]))
    const toms = events.filter(
      ({ pitch, voice }) =>
        voice === 'drums' && [DRUM_KEYS.lowTom, DRUM_KEYS.midTom, DRUM_KEYS.highTom].includes(pitch as 45),
    )
    expect(toms.length).toBeGreaterThan(0)
    expect(toms.every(({ atMs }) => atMs >= 7000 && atMs < 8000)).toBe(true)
    expect(times(events, 'drums', DRUM_KEYS.crash)).toEqual([8000])
  })

  it('leaves a pickup to the player', () => {
    const ferry = demoScore('lantern-ferry.musicxml').arrangement
    expect(Math.min(...section(ferry, 'ballad').events.map(({ atMs }) => atMs))).toBeCloseTo(1000)
  })
})
