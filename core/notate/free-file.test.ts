/**
 * Files that were played without a click, written down here: a tune over a bass, its tempo and unsteadiness known; and
 * music in the usual meters, whose accompaniments are common practice.
 */
import { describe, expect, it } from 'vitest'
import { seededChance } from '../players/randomness'
import { toDecimal } from '../music/quarters'
import { findMeter } from './find-meter'
import { findPulse } from './find-pulse'
import { followsItsBeats, onItsOwnBeats, onTappedBeats } from './free-file'
import { notate, type Raw, type RawNote } from './notate'
import { withTriplets } from './thirds'

/** Sixteen beats in sixteenths: what the right hand strikes; a dot is a silence. */
const TUNE = [
  'x.x.',
  'xxxx',
  'x.x.',
  'x...',
  'xxx.',
  'x.x.',
  'x.xx',
  'x...',
  'x.x.',
  'x.x.',
  'xxxx',
  'x...',
  'x..x',
  'x.x.',
  'x.x.',
  'x...',
]
const PLACES = [0, 1, 2].flatMap(time =>
  TUNE.flatMap((beat, index) =>
    [...beat].flatMap((sign, sixteenth) => (sign === 'x' ? [16 * time + index + sixteenth / 4] : [])),
  ),
)

/**
 * The tune with a bass on every beat; `clock`: from quarter notes to ms; unsteady by so many ms, a normal deviation.
 * Times of the file: 120 quarter notes a minute.
 */
function played(clock: (quarter: number) => number, unsteadyMs: number): { raw: Raw; places: number[] } {
  const chance = seededChance(11)
  const normal = () => Math.sqrt(-2 * Math.log(1 - chance.uniform())) * Math.cos(2 * Math.PI * chance.uniform())
  const all = [
    ...PLACES.map((quarter, index) => ({ quarter, pitch: 67 + ((index * 7) % 12) })),
    ...Array.from({ length: 48 }, (_, quarter) => ({ quarter, pitch: 43 + ((quarter * 5) % 10) })),
  ]
  const notes = all
    .map(({ quarter, pitch }): RawNote & { quarter: number } => {
      const onset = (clock(quarter) + unsteadyMs * normal()) / 500
      return { onset, end: onset + 0.4, pitch, velocity: 64, quarter }
    })
    .sort((a, b) => a.onset - b.onset)
  return {
    places: notes.map(note => note.quarter),
    raw: {
      title: '',
      notes,
      roles: [],
      pedals: [],
      quarterSeconds: 0.5,
      toleranceQuarters: 1 / 480,
      tempos: [{ at: 0, quarterBpm: 120 }],
    },
  }
}
/**
 * The share of the notes that lie where they were meant, but for where the music begins and for twice or half the
 * tempo.
 */
function inPlace({ notes }: Raw, places: readonly number[]): number {
  const shares = [0.5, 1, 2].flatMap(scale => {
    const offs = notes.map((note, index) => Math.round(100 * (note.onset - scale * places[index]!)) / 100)
    return [...new Set(offs)].map(off => offs.filter(one => Math.abs(one - off) < 0.06).length / offs.length)
  })
  return Math.max(...shares)
}
const steady = (bpm: number) => (quarter: number) => 350 + (quarter * 60_000) / bpm
/** A tempo that breathes by a tenth over eight beats. */
const breathing = (bpm: number) => (quarter: number) =>
  350 + ((quarter - ((0.8 * Math.cos((quarter * Math.PI) / 4)) / Math.PI) * 0.5) * 60_000) / bpm

describe('free playing', () => {
  it.each([
    [66, 8],
    [83, 12],
    [97, 12],
    [111, 15],
  ])(
    'at %i quarter notes a minute, unsteady by %i ms, is no playing to the file’s beats, and its own are found',
    (bpm, unsteadyMs) => {
      for (const clock of [steady(bpm), breathing(bpm)]) {
        const { raw, places } = played(clock, unsteadyMs)
        expect(followsItsBeats(raw)).toBe(false)
        const { raw: found } = onItsOwnBeats(raw)
        expect(inPlace(found, places)).toBeGreaterThanOrEqual(0.95)
        const ratio = found.tempos[0]!.quarterBpm / bpm
        expect([0.5, 1, 2].some(times => Math.abs(ratio / times - 1) < 0.04)).toBe(true)
      }
    },
  )

  it('keeps the order of its notes, and every note some length', () => {
    const { raw } = played(breathing(80), 15)
    const {
      raw: { notes },
    } = onItsOwnBeats(raw)
    expect(
      notes.every((note, index) => note.end > note.onset && (index === 0 || note.onset >= notes[index - 1]!.onset)),
    ).toBe(true)
  })
})

describe('playing to the file’s beats', () => {
  it.each([0, 20, 30])('within %i ms is left on them', unsteadyMs =>
    expect(followsItsBeats(played(quarter => quarter * 500, unsteadyMs).raw)).toBe(true),
  )

  it('and a handful of notes, of which nothing can be said, are', () => {
    const { raw } = played(steady(83), 10)
    expect(followsItsBeats({ ...raw, notes: raw.notes.slice(0, 20) })).toBe(true)
  })
})

describe('the pulse', () => {
  it('of nothing is nothing, and of one moment one place', () => {
    expect(findPulse([]).places).toEqual([])
    expect(findPulse([{ atMs: 500, accent: 1 }]).places).toEqual([0])
  })

  it('counts on over a long rest', () => {
    const steps = [0, 1, 2, 3, 4, 5, 6, 7, 8, 24, 25, 26, 27, 28]
    const { places, pulses } = findPulse(
      steps.map(step => ({ atMs: 1000 + 300 * step, accent: step % 4 === 0 ? 0.8 : 0.1 })),
    )
    // Eighth notes, whatever finer pulses they are counted in.
    expect(places.map(place => ((place - places[0]!) * 2) / pulses)).toEqual(steps)
  })

  it('has a bar line where one is known to be', () => {
    const { raw } = played(steady(83), 10)
    const onsets = [...new Set(raw.notes.map(note => note.onset * 500))]
    for (const index of [20, 40]) {
      const { raw: heard, clock } = onItsOwnBeats(raw, {
        meter: { beats: 4, beatType: 4 },
        barLinesMs: [onsets[index]!],
      })
      expect(clock.find(moment => Math.abs(moment.ms - onsets[index]!) < 46)!.quarter % 4).toBe(0)
      expect(heard.meters).toEqual([{ at: 0, meter: { beats: 4, beatType: 4 } }])
    }
  })
})

describe('tapping along', () => {
  const bpm = 84
  const clock = breathing(bpm)
  const { raw, places } = played(clock, 15)
  const taps = Array.from({ length: 48 }, (_, quarter) => clock(quarter) + ((quarter % 3) - 1) * 35)

  it.each([
    [1, 1],
    [2, 0.5],
    [0.5, 2],
  ])('to every %d. quarter puts the notes there, also with taps that are 35 ms off', (every, tapQuarters) => {
    const own =
      every < 1
        ? taps.flatMap((tap, index) => (index + 1 < taps.length ? [tap, (tap + taps[index + 1]!) / 2] : [tap]))
        : taps.filter((_, index) => index % every === 0)
    const { raw: heard } = onTappedBeats(raw, own, (1 / (every < 1 ? 2 : 1)) * (every > 1 ? every : 1))!
    expect(tapQuarters * every).toBe(1)
    const off = heard.notes.map((note, index) => Math.abs(note.onset - places[index]!))
    expect(off.filter(one => one < 0.09).length / off.length).toBeGreaterThanOrEqual(0.97)
  })
  it('goes on behind the last tap at the tempo of the taps', () => {
    const { raw: heard } = onTappedBeats(
      played(steady(bpm), 5).raw,
      Array.from({ length: 8 }, (_, quarter) => steady(bpm)(quarter)),
      1,
    )!
    expect(heard.tempos[0]!.quarterBpm).toBe(bpm)
    expect(inPlace(heard, places)).toBeGreaterThan(0.97)
  })
  it('needs two taps', () =>
    expect([onTappedBeats(raw, [], 1), onTappedBeats(raw, [500], 1)]).toEqual([undefined, undefined]))
  it('has no note before time 0, wherever the first tap is', () => {
    expect(Math.min(...onTappedBeats(raw, taps.slice(5), 1)!.raw.notes.map(note => note.onset))).toBeGreaterThanOrEqual(
      0,
    )
  })
})

/**
 * Bars of a bass and chords, with a tune over them in notes that are usual in the meter: quarter notes from the
 * beginning.
 */
function music(
  beats: number,
  beatType: number,
  tune: readonly (readonly number[])[],
  accompaniment: readonly (readonly [at: number, length: number, ...pitches: number[]])[],
) {
  const bar = (beats * 4) / beatType
  const roots = [0, 5, 7, 0, 9, 5, 7, 0]
  return Array.from({ length: 24 }, (_, index) => {
    const root = roots[index % 8]!
    let at = 0
    return [
      ...accompaniment.flatMap(([from, length, ...pitches]) =>
        pitches.map(pitch => ({
          onset: index * bar + from,
          end: index * bar + from + length,
          pitch: pitch < 55 ? 41 + ((pitch + root) % 12) : pitch + (root % 5),
        })),
      ),
      ...tune[index % tune.length]!.map((length, place) => {
        const onset = index * bar + at
        at += length
        return { onset, end: onset + length, pitch: 72 + ((root + 3 * place + index) % 9) }
      }),
    ]
  }).flat()
}
const METERS: [string, number, number, ReturnType<typeof music>][] = [
  [
    '2/4',
    2,
    4,
    music(
      2,
      4,
      [
        [0.25, 0.25, 0.5, 0.5, 0.5],
        [0.5, 0.25, 0.25, 1],
        [0.25, 0.25, 0.25, 0.25, 1],
      ],
      [
        [0, 0.5, 48],
        [0.5, 0.5, 64, 67],
        [1, 0.5, 43],
        [1.5, 0.5, 64, 67],
      ],
    ),
  ],
  [
    '3/4',
    3,
    4,
    music(
      3,
      4,
      [
        [1, 1, 1],
        [2, 1],
        [1, 0.5, 0.5, 1],
      ],
      [
        [0, 1, 48],
        [1, 1, 64, 67],
        [2, 1, 64, 67],
      ],
    ),
  ],
  [
    '4/4',
    4,
    4,
    music(
      4,
      4,
      [
        [1, 1, 2],
        [1, 0.5, 0.5, 1, 1],
        [2, 1, 1],
      ],
      [
        [0, 2, 48, 64],
        [2, 2, 55, 67],
      ],
    ),
  ],
  [
    '6/8',
    6,
    8,
    music(
      6,
      8,
      [
        [1, 0.5, 1, 0.5],
        [1.5, 1.5],
        [0.5, 0.5, 0.5, 1, 0.5],
      ],
      [
        [0, 0.5, 48],
        [0.5, 0.5, 64],
        [1, 0.5, 67],
        [1.5, 0.5, 50],
        [2, 0.5, 64],
        [2.5, 0.5, 67],
      ],
    ),
  ],
  [
    '5/4',
    5,
    4,
    music(
      5,
      4,
      [
        [1, 1, 1, 1, 1],
        [3, 2],
        [1, 0.5, 0.5, 1, 2],
      ],
      [
        [0, 1, 48],
        [1, 1, 64, 67],
        [2, 1, 64, 67],
        [3, 1, 43],
        [4, 1, 64, 67],
      ],
    ),
  ],
]

describe.each(METERS)('%s', (_, beats, beatType, notes) => {
  it('is found in notes on their beats, and its first bar line too', () => {
    expect(findMeter(notes)).toEqual({ meter: { beats, beatType }, barLine: 0 })
    const late = notes.filter(note => note.onset >= (beats * 4) / beatType / 2)
    expect(findMeter(late).meter).toEqual({ beats, beatType })
    expect(findMeter(late).barLine % ((beats * 4) / beatType)).toBe(0)
  })
  it('is found an octave higher and lower, and in another key', () => {
    for (const by of [-12, 5, 12])
      expect(findMeter(notes.map(note => ({ ...note, pitch: note.pitch + by }))).meter).toEqual({ beats, beatType })
  })
  it.each([78, 96, 118])('is heard in free playing at %i quarter notes a minute', bpm => {
    const chance = seededChance(bpm)
    const wander = breathing(bpm)
    const ms = (quarter: number) => wander(quarter) + 24 * (chance.uniform() - 0.5)
    const free = notes
      .map(({ onset, end, pitch }): RawNote => ({
        onset: ms(onset) / 500,
        end: ms(end - 0.06) / 500,
        pitch,
        velocity: 64,
      }))
      .sort((a, b) => a.onset - b.onset)
    const { arrangement } = notate(
      onItsOwnBeats({
        title: '',
        notes: free,
        roles: [],
        pedals: [],
        quarterSeconds: 0.5,
        toleranceQuarters: 1 / 480,
        tempos: [{ at: 0, quarterBpm: 120 }],
      }).raw,
    )
    expect(arrangement.bars[1]!.meter).toEqual({ beats, beatType })
    const places = new Set(notes.map(note => `${note.pitch}@${note.onset}`))
    const found = arrangement.notes.filter(note => places.has(`${note.pitch}@${toDecimal(note.onset)}`))
    expect(found.length / arrangement.notes.length).toBeGreaterThanOrEqual(0.95)
  })
})

describe('triplets', () => {
  it('among eighths are told from them', () => {
    const places = [0, 2, 4, 5, 6, 7, 8]
    // Quarter notes of 600 ms in sixteenths: an even beat, then two notes on thirds, an eighth, an even beat.
    expect(withTriplets([0, 300, 600, 800, 1000, 1200, 1500], [0, 2, 4, 5, 7, 8, 10], 4)).toEqual([
      0,
      0.5,
      1,
      1 + 1 / 3,
      1 + 2 / 3,
      2,
      2.5,
    ])
    expect(
      withTriplets(
        places.map(place => place * 150),
        places,
        4,
      ),
    ).toEqual(places.map(place => place / 4))
    expect(withTriplets([], [], 4)).toEqual([])
  })
})
