import { Chord, Interval, Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { spellSymbol } from './chord-symbol'
import { nameMoved, signatureMoved, spelledAs, transposed } from './transpose'

const ROOTS = ['C', 'C#', 'Db', 'D', 'D#', 'Eb', 'E', 'F', 'F#', 'Gb', 'G', 'G#', 'Ab', 'A', 'A#', 'Bb', 'B']
const QUALITIES = [
  '',
  'm',
  '7',
  'maj7',
  'm7',
  'dim',
  'dim7',
  'm7b5',
  'aug',
  'sus4',
  'sus2',
  '6',
  'm6',
  '9',
  'maj9',
  'm9',
  '13',
  'mMaj7',
  '7b9',
  '7#11',
]
/** Steps along the line of fifths and the interval they are. */
const INTERVALS: [number, string][] = [
  [1, '5P'],
  [-1, '4P'],
  [2, '2M'],
  [-2, '7m'],
  [3, '6M'],
  [-3, '3m'],
  [4, '3M'],
  [-4, '6m'],
  [5, '7M'],
  [-5, '2m'],
  [6, '4A'],
  [-6, '5d'],
  [7, '1A'],
]

describe('moving names', () => {
  it.each(INTERVALS)(
    '%i fifths is what tonal calls %s, for every root and every note of every quality',
    (fifths, interval) => {
      for (const root of ROOTS) {
        for (const quality of QUALITIES) {
          for (const name of Chord.getChord(quality || 'M', root).notes) {
            const moved = Note.pitchClass(Note.transpose(name, interval))
            expect(nameMoved(name, fifths) ?? '').toBe(/###|bbb/.test(moved) ? '' : moved)
          }
        }
      }
    },
  )
  it('puts a name in the octave in which tonal has the same pitch', () => {
    for (const name of [...ROOTS, 'Cb', 'B#', 'Fb', 'E#', 'Cbb', 'B##'])
      for (const octave of [0, 3, 4, 7])
        expect(spelledAs(name, Note.midi(`${name}${octave}`)!)).toBe(`${name}${octave}`)
  })
  it('finds the signature of a key so much higher: at most six signs, the tonic moved by as many half steps', () => {
    for (let fifths = -7; fifths <= 7; fifths++) {
      for (let halfSteps = -12; halfSteps <= 12; halfSteps++) {
        const moved = signatureMoved(fifths, halfSteps)
        expect(Math.abs(moved)).toBeLessThanOrEqual(6)
        expect(((((moved - fifths) * 7 - halfSteps) % 12) + 12) % 12).toBe(0)
      }
    }
  })
})

describe('a song in another key', () => {
  const song = demoScore('lantern-ferry.musicxml').arrangement
  it.each([-5, -2, -1, 1, 2, 3, 6])(
    '%i half steps: every note by one interval, as tonal spells it, and each symbol with it',
    halfSteps => {
      const moved = transposed(song, halfSteps)
      const fifths = moved.bars[0]!.fifths - song.bars[0]!.fifths
      const interval = INTERVALS.find(([steps]) => steps === fifths)![1]
      const before = new Map(song.notes.map(note => [note.id, note]))
      for (const note of moved.notes) {
        const was = before.get(note.id)!
        expect(note.pitch).toBe(was.pitch + halfSteps)
        expect(Note.pitchClass(note.spelled)).toBe(Note.pitchClass(Note.transpose(was.spelled, interval)))
        expect(Note.midi(note.spelled)).toBe(note.pitch)
      }
      moved.chords.forEach(({ symbol, name, notes, bass, inversion }) =>
        expect(spellSymbol(symbol)).toEqual({ symbol, name, notes, bass, inversion }),
      )
      expect(Interval.semitones(interval)! % 12).toBe((halfSteps + 12) % 12)
    },
  )
  it('says so when the keyboard is too short', () => expect(() => transposed(song, 60)).toThrow(RangeError))
})
