/** Keys of cadences and scales, as every harmony book names them (common practice). */
import { describe, expect, it } from 'vitest'
import { keyOf, keysOf, keyUnder, plainestSignature, type KeyNote } from './key'

/** Chords of a quarter note each, from pitch classes upward of a bass in the third octave. */
const chords = (names: readonly (readonly number[])[]): KeyNote[] =>
  names.flatMap((chord, onset) =>
    chord.map((pitch, voice) => ({ pitch: (voice === 0 ? 48 : 60) + pitch, onset, length: 1 })),
  )
const MAJOR_CADENCE = [
  [0, 4, 7],
  [5, 9, 12],
  [7, 11, 14],
  [0, 4, 7, 12],
]
const MINOR_CADENCE = [
  [0, 3, 7],
  [5, 8, 12],
  [7, 11, 14],
  [0, 3, 7, 12],
]
const moved = (notes: readonly KeyNote[], halfSteps: number) =>
  notes.map(note => ({ ...note, pitch: note.pitch + halfSteps }))
/** Sharps of the major keys from C upward by half steps; F♯ for G♭. */
const MAJOR_SIGNATURES = [0, -5, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5]

describe('the key', () => {
  it.each(MAJOR_SIGNATURES.map((fifths, tonic) => [tonic, fifths]))(
    'of a major cadence on pitch class %i has %i sharps',
    (tonic, fifths) => {
      expect(keyOf(moved(chords(MAJOR_CADENCE), tonic))).toEqual({ fifths, tonic, mode: 'major' })
    },
  )

  it.each(MAJOR_SIGNATURES.map((fifths, relative) => [(relative + 9) % 12, fifths]))(
    'of a minor cadence on pitch class %i has %i sharps',
    (tonic, fifths) => {
      expect(keyOf(moved(chords(MINOR_CADENCE), tonic))).toEqual({ fifths, tonic, mode: 'minor' })
    },
  )

  it('stays the same in another octave, and moves with the notes', () => {
    const notes = chords([...MAJOR_CADENCE, [9, 12, 16], [2, 5, 9], [7, 11, 14], [0, 4, 7]])
    const key = keyOf(notes)!
    expect(keyOf(moved(notes, 12))).toEqual(key)
    for (let halfSteps = 1; halfSteps < 12; halfSteps++)
      expect(keyOf(moved(notes, halfSteps))!.tonic).toBe((key.tonic + halfSteps) % 12)
  })

  it('is told from its relative by the note the bass ends on', () => {
    const scale = [0, 2, 4, 5, 7, 9, 11].map((pitch, onset) => ({ pitch: 60 + pitch, onset, length: 1 }))
    expect(keyOf([...scale, { pitch: 48, onset: 7, length: 1 }])).toMatchObject({ fifths: 0, mode: 'major' })
    expect(keyOf([...scale, { pitch: 57, onset: 7, length: 1 }])).toMatchObject({ fifths: 0, tonic: 9, mode: 'minor' })
  })

  it('of a Dorian tune is written without the flat of the minor key', () => {
    const tune = [2, 9, 9, 11, 12, 9, 7, 5, 4, 2, 5, 9, 11, 9, 5, 2].map((pitch, onset) => ({
      pitch: 60 + pitch,
      onset,
      length: 1,
    }))
    expect(keyOf(tune)).toEqual({ fifths: 0, tonic: 2, mode: 'minor' })
  })

  it('of nothing is none', () => expect(keyOf([])).toBeUndefined())
})

describe('keys inside a song', () => {
  /** Bars of four quarters: cadences in major on some tonics, each four bars long. */
  const song = (tonics: readonly number[]) =>
    tonics.flatMap((tonic, place) =>
      Array.from({ length: 4 }, (_, bar) =>
        moved(chords(MAJOR_CADENCE), tonic % 12).map(note => ({ ...note, onset: note.onset + 16 * place + 4 * bar })),
      ).flat(),
    )
  const found = (tonics: readonly number[]) =>
    keysOf(song(tonics), onset => Math.floor(onset / 4)).map(key => [key.bar, key.tonic, key.mode])

  it('are found where they last', () => {
    expect(found([0, 0, 0, 3, 3, 3, 0, 0])).toEqual([
      [0, 0, 'major'],
      [12, 3, 'major'],
      [24, 0, 'major'],
    ])
    expect(found([2, 2, 2, 2, 9, 9, 9])).toEqual([
      [0, 2, 'major'],
      [16, 9, 'major'],
    ])
  })
  it('are none where another key only passes', () => expect(found([0, 0, 0, 7, 0, 0, 0])).toEqual([[0, 0, 'major']]))
  it('are not looked for in a short song', () => expect(found([0, 0, 7, 7])).toHaveLength(1))
  it('of nothing are none', () => expect(keysOf([], () => 0)).toEqual([]))
})

describe('major or minor under a signature', () => {
  it.each([
    [MAJOR_CADENCE, 0, 'major'],
    [MINOR_CADENCE, -3, 'minor'],
  ] as const)('is told from the notes (%#)', (cadence, fifths, mode) => {
    for (let halfSteps = 0; halfSteps < 12; halfSteps++) {
      const signs =
        [0, 7, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5].map((sharps, step) => (step === 1 ? -5 : sharps))[halfSteps]! + fifths
      expect(keyUnder(moved(chords(cadence), halfSteps), signs)).toMatchObject({ mode, tonic: halfSteps })
    }
  })
})

describe('six sharps or six flats', () => {
  it('is told by how the notes read', () => {
    // The leading tone of E flat minor is D, that of D sharp minor is C double sharp.
    expect(plainestSignature(6, [63, 66, 70, 62, 74])).toBe(-6)
    // The lowered third of F sharp major is A, that of G flat major is B double flat.
    expect(plainestSignature(-6, [66, 70, 73, 69, 81])).toBe(6)
    expect([
      plainestSignature(0, [60, 64, 67]),
      plainestSignature(-6, [66, 70, 73]),
      plainestSignature(6, [66, 70, 73]),
    ]).toEqual([0, -6, 6])
  })
})
