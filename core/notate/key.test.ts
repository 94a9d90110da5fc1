/** Keys of cadences and scales, as every harmony book names them (common practice). */
import { describe, expect, it } from 'vitest'
import { keyOf, type KeyNote } from './key'

/** Chords of a quarter note each, from pitch classes upward of a bass in the third octave. */
const chords = (names: readonly (readonly number[])[]): KeyNote[] => names.flatMap((chord, onset) => chord.map((pitch, voice) => ({ pitch: (voice === 0 ? 48 : 60) + pitch, onset, length: 1 })))
const MAJOR_CADENCE = [[0, 4, 7], [5, 9, 12], [7, 11, 14], [0, 4, 7, 12]]
const MINOR_CADENCE = [[0, 3, 7], [5, 8, 12], [7, 11, 14], [0, 3, 7, 12]]
const moved = (notes: readonly KeyNote[], halfSteps: number) => notes.map(note => ({ ...note, pitch: note.pitch + halfSteps }))
/** Sharps of the major keys from C upward by half steps; F♯ for G♭. */
const MAJOR_SIGNATURES = [0, -5, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5]

describe('the key', () => {
  it.each(MAJOR_SIGNATURES.map((fifths, tonic) => [tonic, fifths]))('of a major cadence on pitch class %i has %i sharps', (tonic, fifths) => {
    expect(keyOf(moved(chords(MAJOR_CADENCE), tonic))).toEqual({ fifths, tonic, mode: 'major' })
  })

  it.each(MAJOR_SIGNATURES.map((fifths, relative) => [(relative + 9) % 12, fifths]))('of a minor cadence on pitch class %i has %i sharps', (tonic, fifths) => {
    expect(keyOf(moved(chords(MINOR_CADENCE), tonic))).toEqual({ fifths, tonic, mode: 'minor' })
  })

  it('stays the same in another octave, and moves with the notes', () => {
    const notes = chords([...MAJOR_CADENCE, [9, 12, 16], [2, 5, 9], [7, 11, 14], [0, 4, 7]])
    const key = keyOf(notes)!
    expect(keyOf(moved(notes, 12))).toEqual(key)
    for (let halfSteps = 1; halfSteps < 12; halfSteps++) expect(keyOf(moved(notes, halfSteps))!.tonic).toBe((key.tonic + halfSteps) % 12)
  })

  it('is told from its relative by the note the bass ends on', () => {
    const scale = [0, 2, 4, 5, 7, 9, 11].map((pitch, onset) => ({ pitch: 60 + pitch, onset, length: 1 }))
    expect(keyOf([...scale, { pitch: 48, onset: 7, length: 1 }])).toMatchObject({ fifths: 0, mode: 'major' })
    expect(keyOf([...scale, { pitch: 57, onset: 7, length: 1 }])).toMatchObject({ fifths: 0, tonic: 9, mode: 'minor' })
  })

  it('of a Dorian tune is written without the flat of the minor key', () => {
    const tune = [2, 9, 9, 11, 12, 9, 7, 5, 4, 2, 5, 9, 11, 9, 5, 2].map((pitch, onset) => ({ pitch: 60 + pitch, onset, length: 1 }))
    expect(keyOf(tune)).toEqual({ fifths: 0, tonic: 2, mode: 'minor' })
  })

  it('of nothing is none', () => expect(keyOf([])).toBeUndefined())
})
