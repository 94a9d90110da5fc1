import fc from 'fast-check'
import { Chord, Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { spellChord } from './chord-symbol'
import { isCompound, pulses } from './meter'
import { midiOf, spellInKey } from './pitch'
import { displayName } from '../words/note-names'
import { playingOrder } from './playing-order'
import { add, commonDivision, compare, quarters, subtract, toDecimal } from './quarters'
import type { Bar } from './arrangement'

describe('score time', () => {
  it('keeps triplets exact: three thirds of a quarter are a quarter', () => {
    const third = quarters(1, 3)
    expect(add(add(third, third), third)).toEqual(quarters(1))
  })

  it('adds and takes away without loss, over any tuplets', () => {
    const length = fc
      .tuple(fc.integer({ min: -400, max: 400 }), fc.integer({ min: 1, max: 96 }))
      .map(([n, d]) => quarters(n, d))
    fc.assert(
      fc.property(length, length, (a, b) => {
        expect(subtract(add(a, b), b)).toEqual(a)
        expect(Math.sign(compare(a, b))).toBe(Math.sign(toDecimal(a) - toDecimal(b)))
      }),
    )
  })

  it('refuses what cannot be kept exactly', () => {
    expect(() => quarters(1, 0)).toThrow(RangeError)
    expect(() => add(quarters(1, 9007199254740881), quarters(1, 9007199254740847))).toThrow(RangeError)
  })
})

describe('pitch', () => {
  it('A4, the tuning note, is note 69 and middle C note 60 (ISO 16; MIDI 1.0)', () => {
    expect(midiOf('A', 0, 4)).toBe(69)
    expect(midiOf('C', 0, 4)).toBe(60)
  })

  it('agrees with tonal on the key of every spelled name', () => {
    for (const step of 'CDEFGAB') {
      for (const [alter, sign] of [
        [-2, 'bb'],
        [-1, 'b'],
        [0, ''],
        [1, '#'],
        [2, '##'],
      ] as const) {
        for (let octave = 1; octave <= 8; octave++)
          expect(midiOf(step, alter, octave)).toBe(Note.midi(`${step}${sign}${octave}`))
      }
    }
  })

  it('spells every key on the piano, in every key signature, as that very key', () => {
    for (let fifths = -7; fifths <= 7; fifths++) {
      for (let pitch = 21; pitch <= 108; pitch++)
        expect(Note.midi(spellInKey(pitch, fifths)), `${pitch} in ${fifths}`).toBe(pitch)
    }
  })

  it("spells the scale of each key signature with its own seven letters (tonal's major scales)", () => {
    const majors = ['Cb', 'Gb', 'Db', 'Ab', 'Eb', 'Bb', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F#', 'C#']
    majors.forEach((tonic, index) => {
      const fifths = index - 7
      for (const name of ['1P', '2M', '3M', '4P', '5P', '6M', '7M'].map(interval =>
        Note.transpose(`${tonic}4`, interval),
      )) {
        expect(spellInKey(Note.midi(name)!, fifths)).toBe(name)
      }
    })
  })

  it.each([
    [3, 65, 'E#4'],
    [0, 68, 'G#4'],
    [-1, 61, 'C#4'],
    [-3, 59, 'B3'],
    [2, 70, 'A#4'],
  ])('raises the leading note of the minor key (common practice): key %i, note %i is %s', (fifths, pitch, name) => {
    expect(spellInKey(pitch, fifths)).toBe(name)
  })

  it('shows names as they are written by hand', () => {
    expect(displayName('F#4')).toBe('F♯4')
    expect(displayName('Bbb3', false)).toBe('B♭♭')
    expect(displayName('C-1', false)).toBe('C')
  })
})

describe('meter', () => {
  it('feels 6/8, 9/8 and 12/8 in dotted beats and 3/4 in three (common practice)', () => {
    expect(pulses({ beats: 6, beatType: 8 })).toEqual([0, 3])
    expect(pulses({ beats: 12, beatType: 8 })).toEqual([0, 3, 6, 9])
    expect(pulses({ beats: 3, beatType: 4 })).toEqual([0, 1, 2])
    expect(isCompound({ beats: 3, beatType: 8 })).toBe(false)
    expect(pulses({ beats: 5, beatType: 8, groups: [3, 2] })).toEqual([0, 3])
  })
})

describe('chord symbols', () => {
  it('spells the usual kinds as tonal does, over all twelve roots', () => {
    for (const root of ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']) {
      for (const suffix of ['', 'm', '7', 'maj7', 'm7', 'dim', 'aug', 'm7b5', '6', 'sus4', '9']) {
        expect(spellChord(root, suffix).notes).toEqual(Chord.getChord(suffix || 'M', root).notes)
      }
    }
  })

  it('tells inversions by the bass: G/B is the first, C/G the second, Dm/C none of the chord', () => {
    expect(spellChord('G', '', 'B')).toMatchObject({ symbol: 'G/B', inversion: 1, notes: ['G', 'B', 'D'] })
    expect(spellChord('C', '', 'G').inversion).toBe(2)
    expect(spellChord('D', 'm', 'C')).toMatchObject({ symbol: 'Dm/C', inversion: null, bass: 'C' })
  })

  it('keeps the flat of a flat nine and drops the fifth of a seventh without it', () => {
    expect(spellChord('G', '7', 'G', [{ value: 9, alter: -1, kind: 'add' }])).toMatchObject({
      symbol: 'G7b9',
      notes: ['G', 'B', 'D', 'F', 'Ab'],
    })
    expect(spellChord('C', '7', 'C', [{ value: 5, alter: 0, kind: 'subtract' }]).notes).toEqual(['C', 'E', 'Bb'])
    expect(spellChord('Bb', '7', 'Bb', [{ value: 5, alter: 1, kind: 'alter' }]).notes).toEqual(['Bb', 'D', 'F#', 'Ab'])
  })
})

describe('playing order', () => {
  const bars = (...marks: Partial<Bar>[]) => marks as Bar[]

  it('takes a repeat four times when it says so', () => {
    expect(playingOrder(bars({ repeatStart: true, repeatEnd: 4 }, {}))).toEqual([0, 0, 0, 0, 1])
  })

  it('plays an ending for the first and second time twice', () => {
    expect(playingOrder(bars({ repeatStart: true }, { endings: [1, 2], repeatEnd: 2 }, { endings: [3] }))).toEqual([
      0, 1, 0, 1, 0, 2,
    ])
  })

  it('ends, whatever a file asks for', () => {
    expect(
      playingOrder(bars(...Array.from({ length: 1000 }, () => ({ repeatStart: true, repeatEnd: 100 })))).length,
    ).toBeLessThanOrEqual(20_000)
  })
})

describe('a common division', () => {
  it('of a quarter note is the least on which all moments lie', () => {
    expect(commonDivision([quarters(1, 4), quarters(2, 3), quarters(5)], 100)).toBe(12)
    expect(commonDivision([], 100)).toBe(1)
  })

  it('is none where it would be too fine', () =>
    expect(commonDivision([quarters(1, 97), quarters(1, 89)], 1000)).toBeUndefined())
})
