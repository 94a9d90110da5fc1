/**
 * Fingers against what handbooks and teachers agree on (common practice, unchecked: tests/material/taught-fingers.ts
 * for the scales; the others beside their tests), played from the notes alone: nothing is said of a key.
 */
import type { FingerNote } from './finger-note'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Hand } from '../music/arrangement'
import { isTaughtScale, KEY_NAMES, scaleKeys, type ScaleKind } from '../../tests/material/taught-fingers'
import { comparedText } from '../words/fingering'
import { compareFingers } from './alternatives'
import { isBlack } from './ergonomics'
import { findFingering } from './fingering'
import { shapeOf } from './hand-shape'

const HANDS: Hand[] = ['right', 'left']
const TONICS = KEY_NAMES.map((_, tonic) => tonic)
const base = (hand: Hand) => (hand === 'right' ? 60 : 36)
const line = (pitches: readonly number[], ms = 250): FingerNote[] =>
  pitches.map((pitch, index) => ({ id: `n${index}`, pitch, onsetMs: index * ms, endMs: index * ms + ms - 10 }))
const chord = (pitches: readonly number[], atMs: number, id: string, ms = 450): FingerNote[] =>
  pitches.map((pitch, index) => ({ id: `${id}-${index}`, pitch, onsetMs: atMs, endMs: atMs + ms }))
const fingers = (notes: readonly FingerNote[], hand: Hand) =>
  findFingering(notes, { hand }).notes.map(one => one.finger)
const groups = (found: readonly number[], size: number) =>
  Array.from({ length: found.length / size }, (_, index) => found.slice(index * size, (index + 1) * size).join(''))
/** The share that is as taught, with what is not, so that a failing test shows it. */
function share(cases: readonly { name: string; good: boolean }[]): number {
  const bad = cases.filter(one => !one.good)
  if (bad.length > 0)
    expect
      .soft(
        bad.length / cases.length,
        bad
          .map(one => one.name)
          .slice(0, 12)
          .join('; '),
      )
      .toBeLessThan(0.5)
  return 1 - bad.length / cases.length
}

describe('scales, without a signature', () => {
  it.each<ScaleKind>(['major', 'harmonic', 'melodic', 'natural'])(
    '%s: 95 of 100 ways up and down, in one and two octaves, are as taught',
    kind => {
      const cases = HANDS.flatMap(hand =>
        TONICS.flatMap(tonic =>
          [1, 2].flatMap(octaves => {
            const keys = scaleKeys(tonic, kind, base(hand), octaves)
            const [up, down] = [fingers(line(keys), hand), fingers(line([...keys].reverse()), hand).reverse()]
            return [up, down].map(one => ({
              name: `${hand} ${KEY_NAMES[tonic]} ${one.join('')}`,
              good: isTaughtScale(one, tonic, kind, hand),
            }))
          }),
        ),
      )
      expect(share(cases)).toBeGreaterThanOrEqual(0.95)
    },
  )
  it('chromatic: the third finger on black keys, the second where two white ones meet', () => {
    for (const hand of HANDS) {
      for (const from of [0, 2, 5, 9]) {
        const keys = Array.from({ length: 13 }, (_, step) => base(hand) + from + step)
        const taught = keys.map(key =>
          isBlack(key) ? 3 : (hand === 'right' ? [5, 0] : [4, 11]).includes(key % 12) ? 2 : 1,
        )
        expect(fingers(line(keys), hand).slice(1, -1)).toEqual(taught.slice(1, -1))
      }
    }
  })
  it('in thirds: 1-3, 2-4, 3-5 one after the other (one of several printed ways)', () => {
    const steps = [0, 2, 4, 5, 7, 9, 11, 12, 14, 16]
    const thirds = Array.from({ length: 8 }, (_, index) =>
      chord([60 + steps[index]!, 60 + steps[index + 2]!], index * 400, `t${index}`, 380),
    ).flat()
    expect(groups(fingers(thirds, 'right'), 2)).toEqual(['24', '35', '13', '24', '35', '13', '24', '35'])
  })
})

describe('broken chords', () => {
  const TRIADS = { major: [0, 4, 7], minor: [0, 3, 7] }
  it('over two octaves, in root position and inverted: the thumb on the first white key, then the fingers of the chord', () => {
    const cases = HANDS.flatMap(hand =>
      TONICS.flatMap(tonic =>
        Object.values(TRIADS).flatMap(triad =>
          [0, 1, 2].flatMap(inversion => {
            const keys = Array.from(
              { length: 7 },
              (_, index) =>
                base(hand) + tonic + triad[(inversion + index) % 3]! + 12 * Math.floor((inversion + index) / 3),
            )
            const fromThumb = hand === 'right' ? keys : [...keys].reverse()
            const thumb = Math.max(
              0,
              fromThumb.findIndex(key => !isBlack(key)),
            )
            return [fingers(line(keys), hand), fingers(line([...keys].reverse()), hand).reverse()].map(found => {
              const own = hand === 'right' ? found : [...found].reverse()
              const good = own
                .slice(1, -1)
                .every(
                  (finger, index) =>
                    ({ 0: finger === 1, 1: finger === 2, 2: finger === 3 || finger === 4 })[
                      ((((index + 1 - thumb) % 3) + 3) % 3) as 0 | 1 | 2
                    ],
                )
              return { name: `${hand} ${KEY_NAMES[tonic]} ${found.join('')}`, good }
            })
          }),
        ),
      ),
    )
    expect(share(cases)).toBeGreaterThanOrEqual(0.95)
  })
  it('that the hand holds whole, one finger after the other: 5 4 3 2 1', () => {
    for (const hand of HANDS)
      for (const tonic of TONICS)
        expect(fingers(line([14, 10, 7, 4, 0].map(step => base(hand) + tonic + step)), hand).join('')).toBe(
          hand === 'right' ? '54321' : '12345',
        )
  })
  it('in tenths: root 5, fifth 2, tenth 1', () => {
    for (const tonic of TONICS)
      expect(
        new Set(groups(fingers(line([0, 7, 16, 7, 0, 7, 16, 7].map(step => 36 + tonic + step)), 'left'), 4)),
      ).toEqual(new Set(['5212']))
  })
  it('low, high, middle, high, in all keys over I, IV and V: the chord keeps its hand', () => {
    const bars = [
      [0, 4, 7],
      [0, 4, 7],
      [0, 5, 9],
      [-1, 5, 7],
      [0, 4, 7],
    ] as const
    const cases = TONICS.flatMap(tonic => {
      const found = groups(
        fingers(
          line(bars.flatMap(([low, middle, high]) => [low, high, middle, high].map(step => 48 + tonic + step))),
          'left',
        ),
        4,
      )
      return found.map((one, bar) => ({
        name: `${KEY_NAMES[tonic]} ${one}`,
        good: one === ['5131', '5131', '5121', '5121', '5131'][bar],
      }))
    })
    expect(share(cases)).toBeGreaterThanOrEqual(0.95)
  })
})

describe('chords', () => {
  it('a chain of inversions up and down keeps the shape of each: 135 125 135, left 531 531 521', () => {
    const cases = HANDS.flatMap(hand =>
      TONICS.flatMap(tonic =>
        [
          [0, 4, 7],
          [0, 3, 7],
        ].flatMap(([root, third, fifth]) => {
          const up = [
            [root, third, fifth],
            [third, fifth, 12],
            [fifth, 12, 12 + third!],
            [12, 12 + third!, 12 + fifth!],
          ].map(steps => steps.map(step => base(hand) + tonic + step!))
          const chain = [...up, ...[...up].reverse().slice(1)]
          const found = groups(
            fingers(
              chain.flatMap((keys, index) => chord(keys, index * 500, `c${index}`)),
              hand,
            ),
            3,
          )
          const taught =
            hand === 'right'
              ? ['135', '125', '135', '135', '135', '125', '135']
              : ['531', '531', '521', '531', '521', '531', '531']
          return found.map((one, index) => ({
            name: `${hand} ${KEY_NAMES[tonic]} ${index} ${one}`,
            good: one === taught[index],
          }))
        }),
      ),
    )
    expect(share(cases)).toBeGreaterThanOrEqual(0.95)
  })
  it('of four notes: 1 2 3 5 with a fourth at the top, 1 2 4 5 with a third there; for the left hand in a mirror', () => {
    const right = (steps: number[]) =>
      shapeOf(
        steps,
        steps.map(step => 60 + step),
      )!.fingers.join('')
    expect([right([0, 4, 7, 12]), right([0, 3, 8, 12]), right([0, 5, 9, 12])]).toEqual(['1235', '1245', '1245'])
    expect(fingers(chord([48, 52, 55, 60], 0, 'c'), 'left').join('')).toMatch(/^5[34]21$/)
    expect(fingers(chord([52, 55, 60, 64], 0, 'c'), 'left').join('')).toBe('5421')
  })
  it('a cadence: I, IV with a common little finger, V7, I', () => {
    const cadence = [
      [0, 4, 7],
      [0, 5, 9],
      [-1, 5, 7],
      [0, 4, 7],
    ].flatMap((steps, index) =>
      chord(
        steps.map(step => 48 + step),
        index * 700,
        `k${index}`,
      ),
    )
    expect(groups(fingers(cadence, 'left'), 3)).toEqual(['531', '521', '521', '531'])
  })
  it('wider than the hand: thumb and little finger at its ends, and it is said to be rolled', () => {
    const { notes, events } = findFingering(chord([36, 52, 60], 0, 'w'), { hand: 'left' })
    expect(notes.map(one => one.finger)).toMatchObject([5, expect.any(Number), 1])
    expect(events.some(event => event.kind === 'beyond-reach')).toBe(true)
  })
})

describe('accompaniments of the left hand', () => {
  const bassAndChord = (tonic: number, beats: number) =>
    Array.from({ length: 4 }, (_, bar) =>
      [
        chord([36 + tonic - (bar % 2 ? 5 : 0)], bar * beats * 500, `b${bar}`),
        ...Array.from({ length: beats - 1 }, (__, beat) =>
          chord(
            [48, 52, 55].map(key => key + tonic),
            (bar * beats + beat + 1) * 500,
            `u${bar}${beat}`,
          ),
        ),
      ].flat(),
    ).flat()
  it.each([
    ['a waltz', 3],
    ['stride', 2],
  ])('%s: the low note has the little finger, the chord its own hand, in all keys', (_name, beats) => {
    for (const tonic of TONICS) {
      const found = groups(fingers(bassAndChord(tonic, beats), 'left'), 1 + 3 * (beats - 1))
      for (const bar of found) expect(bar).toMatch(/^5(531)+$/)
    }
  })
})

describe('tunes in one position', () => {
  /** The first line of a tune that beginners play, and others made up for the test: steps from the thumb's key. */
  const TUNES = [
    [4, 4, 5, 7, 7, 5, 4, 2, 0, 0, 2, 4, 4, 2, 2],
    [0, 2, 4, 5, 7, 5, 4, 2, 0],
    [7, 4, 4, 5, 2, 2, 0, 2, 4, 5, 7, 7, 7],
    [0, 4, 2, 5, 4, 7, 5, 4, 2, 0],
  ]
  it('keep one finger for each key, in all keys: 95 of 100', () => {
    const cases = HANDS.flatMap(hand =>
      TUNES.flatMap(tune =>
        TONICS.map(tonic => {
          const found = fingers(
            line(
              tune.map(step => base(hand) + tonic + step),
              300,
            ),
            hand,
          )
          const taught = tune.map(step => {
            const finger = { 0: 1, 2: 2, 4: 3, 5: 4, 7: 5 }[step]!
            return hand === 'right' ? finger : 6 - finger
          })
          return { name: `${hand} ${KEY_NAMES[tonic]} ${found.join('')}`, good: found.join('') === taught.join('') }
        }),
      ),
    )
    expect(share(cases)).toBeGreaterThanOrEqual(0.95)
  })
})

describe('a figure keeps its fingers', () => {
  const figure = fc
    .uniqueArray(fc.integer({ min: 0, max: 12 }), { minLength: 3, maxLength: 4 })
    .filter(
      steps =>
        Math.max(...steps) - Math.min(...steps) >= 6 &&
        [...steps].sort((a, b) => a - b).every((step, at, all) => at === 0 || step - all[at - 1]! >= 3),
    )
  it('when it repeats', () => {
    fc.assert(
      fc.property(
        figure,
        fc.integer({ min: 48, max: 60 }),
        fc.constantFrom<Hand>('right', 'left'),
        (steps, from, hand) => {
          const found = groups(
            fingers(line(Array.from({ length: 4 }, () => steps.map(step => from + step)).flat()), hand),
            steps.length,
          )
          expect(new Set(found).size).toBe(1)
        },
      ),
      { numRuns: 200, seed: 4 },
    )
  })
  it('when it moves by an octave', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 48, max: 64 }), { minLength: 4, maxLength: 16 }),
        fc.constantFrom<Hand>('right', 'left'),
        (pitches, hand) => {
          expect(fingers(line(pitches.map(pitch => pitch + 12)), hand)).toEqual(fingers(line(pitches), hand))
        },
      ),
      { numRuns: 150, seed: 5 },
    )
  })
  it('and the rest of a run fits to a finger that is given', () => {
    const notes = line(scaleKeys(0, 'major', 60, 2))
    notes[4]!.locked = 1
    const found = findFingering(notes, { hand: 'right' })
    expect(found.notes[4]).toMatchObject({ finger: 1, locked: true })
    // From there on the groups stand on the given thumb: G A B C, or G A B and C D E F.
    expect(found.notes[11]!.finger).toBe(1)
  })
})

describe('other fingers', () => {
  it('are told by what the hand would do otherwise', () => {
    const notes = line(scaleKeys(0, 'major', 60, 1))
    const fingering = findFingering(notes, { hand: 'right' })
    const others = compareFingers(notes, fingering, 'n3', { hand: 'right' })
    expect(others.map(one => one.finger).sort()).toEqual([2, 3, 4, 5])
    expect(others.every(one => one.extraCost > 0 && comparedText(one).length > 5)).toBe(true)
    expect(comparedText({ finger: 4, extraCost: 3, fewer: { crossing: 1 }, more: { stretch: 1 } })).toBe(
      'one crossing fewer, but one wide stretch more',
    )
    expect(comparedText({ finger: 4, extraCost: 1, fewer: {}, more: {} })).toBe('nearly as easy')
    expect(comparedText({ finger: 4, extraCost: 4, fewer: {}, more: { 'position-change': 2 } })).toBe(
      'two moves of the hand more',
    )
    expect(compareFingers(notes, fingering, 'nobody', { hand: 'right' })).toEqual([])
  })
})
