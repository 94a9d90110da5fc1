/**
 * Fingerings against those that are taught: scales and arpeggios of all twelve major keys as printed in scale manuals
 * (common practice; unchecked), triads and their inversions, and the finger-pair spans of Parncutt and others 1997
 * (unchecked).
 */
import type { FingerNote } from './finger-note'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Hand } from '../music/arrangement'
import { quarters } from '../music/quarters'
import { DEMO_FILES, demoScore } from '../../tests/material/demo'
import { arrangementEnd } from '../music/arrangement'
import { SPANS, type Finger } from './ergonomics'
import { findFingering, type FingeringOptions } from './fingering'
import { describeEvent } from '../words/fingering'
import { fingerPart } from './part-fingering'
import { keyAt } from '../music/key'
import { SCALES, scaleFingers } from './scale-pattern'

const line = (pitches: readonly number[], ms = 300): FingerNote[] =>
  pitches.map((pitch, index) => ({ id: `n${index}`, pitch, onsetMs: index * ms, endMs: index * ms + ms - 10 }))
const chord = (pitches: readonly number[], atMs = 0, name = 'c'): FingerNote[] =>
  pitches.map((pitch, index) => ({ id: `${name}${index}`, pitch, onsetMs: atMs, endMs: atMs + 480 }))
const fingers = (notes: readonly FingerNote[], options: FingeringOptions) =>
  findFingering(notes, options)
    .notes.map(one => one.finger)
    .join('')

const KEYS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B']
/** One octave upward. Where manuals differ, each way that is printed. */
const TAUGHT: Record<Hand, Record<string, RegExp>> = {
  right: {
    C: /^12312345$/,
    Db: /^23123412$/,
    D: /^12312345$/,
    Eb: /^[23]1234123$/,
    E: /^12312345$/,
    F: /^12341234$/,
    Gb: /^23412312$/,
    G: /^12312345$/,
    Ab: /^(34123123|23123123)$/,
    A: /^12312345$/,
    Bb: /^21231234$/,
    B: /^12312345$/,
  },
  left: {
    C: /^54321321$/,
    Db: /^32143213$/,
    D: /^54321321$/,
    Eb: /^32143213$/,
    E: /^54321321$/,
    F: /^54321321$/,
    Gb: /^4321321[34]$/,
    G: /^54321321$/,
    Ab: /^32143213$/,
    A: /^54321321$/,
    Bb: /^32143213$/,
    B: /^43214321$/,
  },
}
const ARPEGGIOS: Record<Hand, (key: string) => RegExp> = {
  right: key => (['Db', 'Eb', 'Ab', 'Bb'].includes(key) ? /^[24]124$/ : /^1235$/),
  left: key => (key === 'Bb' ? /^(3213|214[12])$/ : ['Db', 'Eb', 'Ab'].includes(key) ? /^214[12]$/ : /^5[34]21$/),
}
const cases = (['right', 'left'] as const).flatMap(hand =>
  KEYS.map((key, tonic) => ({
    hand,
    key,
    tonic,
    base: (hand === 'right' ? 60 : 48) + (tonic > 6 ? tonic - 12 : tonic),
  })),
)
const upward = (base: number, octaves: number) => [
  ...Array.from({ length: 7 * octaves }, (_, index) => base + 12 * Math.floor(index / 7) + SCALES.major[index % 7]!),
  base + 12 * octaves,
]

describe.each(cases)('$key major, $hand hand', ({ hand, key, base }) => {
  it('plays its scale as it is taught, up and down', () => {
    expect(fingers(line(upward(base, 1)), { hand })).toMatch(TAUGHT[hand][key]!)
    expect([...fingers(line(upward(base, 1).reverse()), { hand })].reverse().slice(1, -1).join('')).toBe(
      fingers(line(upward(base, 1)), { hand }).slice(1, -1),
    )
  })
  it('plays the second octave as the first', () => {
    const two = fingers(line(upward(base, 2)), { hand })
    expect(two.slice(8, 14)).toBe(two.slice(1, 7))
  })
  it('plays its arpeggio as it is taught', () => {
    expect(fingers(line([0, 4, 7, 12].map(step => base + step)), { hand })).toMatch(ARPEGGIOS[hand](key))
  })
  it('takes its triad and the inversions as they are taught', () => {
    expect(fingers(chord([0, 4, 7].map(step => base + step)), { hand })).toBe(hand === 'right' ? '135' : '531')
    expect(fingers(chord([4, 7, 12].map(step => base + step)), { hand })).toBe(hand === 'right' ? '125' : '531')
    expect(fingers(chord([-5, 0, 4].map(step => base + step)), { hand })).toBe(hand === 'right' ? '135' : '521')
  })
})

describe('the teaching rules of scales', () => {
  it('put no thumb on a black key and one finger on each step, in minor too', () => {
    for (const hand of ['right', 'left'] as const) {
      for (let tonic = 0; tonic < 12; tonic++) {
        for (const steps of [SCALES.major, SCALES.minor]) {
          const found = scaleFingers(
            steps.map(step => (tonic + step) % 12),
            hand,
          )
          const thumbs = [...found].filter(([, finger]) => finger === 1).map(([pitchClass]) => pitchClass)
          expect(thumbs.some(one => [1, 3, 6, 8, 10].includes(one))).toBe(false)
          expect([...found.values()].sort().join('')).toBe('1122334')
        }
      }
    }
  })
  it('A minor like C, F♯ minor with 4 on G♯', () => {
    const of = (tonic: number) =>
      SCALES.minor
        .map(step =>
          scaleFingers(
            SCALES.minor.map(one => (tonic + one) % 12),
            'right',
          ).get((tonic + step) % 12),
        )
        .join('')
    expect([of(9), of(6)]).toEqual(['1231234', '3412312'])
  })
})

describe('what hands do', () => {
  it.each([
    ['five keys under five fingers', [60, 62, 64, 65, 67, 65, 64, 62, 60], '123454321'],
    ['broken thirds', [60, 64, 62, 65, 64, 67], '132435'],
    ['a broken chord', [60, 67, 64, 67, 60, 67, 64, 67], '15351535'],
    ['octaves', [60, 72, 60, 72], '1515'],
    ['steps and a repeated key', [64, 62, 60, 62, 64, 64, 64], '3212333'],
  ])('%s', (_name, pitches, expected) => expect(fingers(line(pitches), { hand: 'right' })).toBe(expected))

  it('A–C–E to A–D–F in the left hand: 5 3 1 to 5 2 1, the little finger stays', () => {
    expect(fingers([...chord([45, 48, 52]), ...chord([45, 50, 53], 500, 'd')], { hand: 'left' })).toBe('531521')
  })
  it('names the thumb passing under, and the hand moving', () => {
    const { events } = findFingering(line(upward(60, 1)), { hand: 'right' })
    expect(events).toMatchObject([{ kind: 'crossing', id: 'n3', finger: 1, from: 3 }])
    expect(describeEvent(events[0]!, 'F4')).toBe('thumb under to F')
    expect(findFingering(line([60, 84]), { hand: 'right' }).events[0]!.kind).toBe('position-change')
  })
})

describe('what must hold', () => {
  it('locked fingers stay, and the rest follows them', () => {
    const notes = line([60, 62, 64, 65, 67])
    notes[0]!.locked = 2
    const { notes: found } = findFingering(notes, { hand: 'right' })
    expect(found[0]).toMatchObject({ finger: 2, locked: true, alternatives: [] })
    expect(found.map(one => one.finger).join('')).not.toBe('12345')
  })
  it('a chord wider than the hand is said to be, and one within it is not', () => {
    const tenth = chord([48, 64])
    expect(findFingering(tenth, { hand: 'left', reach: 14 }).events).toMatchObject([
      { kind: 'beyond-reach', halfSteps: 16 },
    ])
    expect(findFingering(tenth, { hand: 'left', reach: 17 }).events.some(one => one.kind === 'beyond-reach')).toBe(
      false,
    )
  })
  it('two keys locked to one finger are impossible', () => {
    const notes = chord([60, 67])
    for (const note of notes) note.locked = 3
    expect(findFingering(notes, { hand: 'right' }).events).toMatchObject([{ kind: 'impossible' }])
  })
  it('a held key keeps its finger, or says that another takes over', () => {
    const notes: FingerNote[] = [
      { id: 'held', pitch: 60, onsetMs: 0, endMs: 2000 },
      ...[64, 65, 67].map((pitch, index) => ({
        id: `u${index}`,
        pitch,
        onsetMs: 300 + 300 * index,
        endMs: 590 + 300 * index,
      })),
    ]
    expect(fingers(notes, { hand: 'right' })[0]).toBe('1')
    expect(fingers(notes, { hand: 'right' }).slice(1)).toMatch(/^[2-5]{3}$/)
  })
  it('alternatives cost more, and locking one of them costs just that, or less where the figure around it finds other fingers', () => {
    const notes = line([60, 64, 67, 72, 67, 64])
    const best = findFingering(notes, { hand: 'right' })
    for (const [index, note] of best.notes.entries()) {
      for (const { finger, extraCost } of note.alternatives.slice(0, 2)) {
        expect(extraCost).toBeGreaterThanOrEqual(0)
        const locked = notes.map((one, place) => (place === index ? { ...one, locked: finger } : one))
        expect(findFingering(locked, { hand: 'right' }).cost).toBeLessThanOrEqual(best.cost + extraCost + 0.05)
      }
    }
  })
  it("every chord's fingers rise with its keys and stay in the table's practical spans where they can", () => {
    fc.assert(
      fc.property(
        fc.array(fc.uniqueArray(fc.integer({ min: 60, max: 71 }), { minLength: 1, maxLength: 4 }), {
          minLength: 1,
          maxLength: 12,
        }),
        chords => {
          const notes = chords.flatMap((pitches, index) =>
            chord(
              [...pitches].sort((a, b) => a - b),
              index * 500,
              `c${index}-`,
            ),
          )
          const { notes: found, events } = findFingering(notes, { hand: 'right' })
          let at = 0
          for (const pitches of chords) {
            const own = found.slice(at, (at += pitches.length)).map(one => one.finger)
            const sorted = [...pitches].sort((a, b) => a - b)
            own.forEach((finger, index) => {
              if (index === 0) return
              expect(finger).toBeGreaterThan(own[index - 1]!)
              const wide = sorted[index]! - sorted[index - 1]! > SPANS[`${own[index - 1]!}${finger}`]!.maxPractical
              if (wide) expect(events.some(event => event.kind === 'beyond-reach')).toBe(true)
            })
          }
        },
      ),
      { numRuns: 200, seed: 2 },
    )
  })
  it('the left hand is the right hand in a mirror', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 57, max: 71 }), { minLength: 2, maxLength: 14 }), pitches => {
        // D is the mirror of the keyboard: black and white keys change places with themselves.
        const mirrored = pitches.map(pitch => 2 * 62 - pitch)
        expect(findFingering(line(mirrored), { hand: 'left' }).cost).toBeCloseTo(
          findFingering(line(pitches), { hand: 'right' }).cost,
          6,
        )
      }),
      { numRuns: 100, seed: 3 },
    )
  })
})

describe('a part of a song', () => {
  const { arrangement } = demoScore(DEMO_FILES[0]!)
  const whole = { from: quarters(0), to: arrangementEnd(arrangement) }
  it("keeps the file's fingers and gives every note one that a hand has", () => {
    const written = new Map(
      arrangement.notes.filter(note => note.finger !== undefined).map(note => [note.id, note.finger as Finger]),
    )
    for (const hand of ['right', 'left'] as const) {
      const { notes, events } = fingerPart(arrangement, whole, hand)
      expect(notes).toHaveLength(arrangement.notes.filter(note => note.hand === hand).length)
      for (const note of notes)
        if (written.has(note.id)) expect(note).toMatchObject({ finger: written.get(note.id), locked: true })
      expect(events.filter(event => event.kind === 'impossible')).toEqual([])
    }
  })
  it('knows the key', () => expect(keyAt(arrangement, whole.from)).toMatchObject({ isMinor: false }))
})
