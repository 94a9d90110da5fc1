import { Chord, Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { arrange } from './arrange'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import type { Arrangement } from './arrangement'
import { chordPlan } from './chord-plan'
import { quarters, toDecimal } from './quarters'
import { romanNumeral } from './roman-numeral'
import { harmonyOf } from './song-harmony'

/** Chords one after the other, lowest note first in the left hand: `C3 E4 G4` a quarter note each, or so many. */
function chords(text: string, length = 1, fifths = 0): Arrangement {
  const notes = text.split(' | ').flatMap((chord, place) =>
    chord.split(' ').map((name, voice) => ({
      hand: voice === 0 ? ('left' as const) : ('right' as const),
      onset: quarters(place * length),
      end: quarters((place + 1) * length),
      pitch: Note.midi(name)!,
    })),
  )
  return arrange(
    {
      title: 'Chords',
      meters: [{ at: quarters(0), meter: { beats: 4, beatType: 4 } }],
      fifths,
      pickup: quarters(0),
      tempos: [],
    },
    notes,
  )
}
const symbols = (song: Arrangement) => harmonyOf(song).map(one => one.symbol)
const read = (right: string, left: string, fifths = 0) =>
  readMusicXml(bytesOf(pianoScore([attributes({ staves: 2, fifths }) + right + backup(4) + left]))).arrangement
const line = (names: string, length: number, staff: number) =>
  names
    .split(' ')
    .map(pitch => note({ pitch, length, staff }))
    .join('')

/** As any harmony book has it (common practice). */
describe('the harmony of a song', () => {
  it('hears a cadence, with degrees', () => {
    const found = harmonyOf(chords('C3 E4 G4 C5 | F3 C4 F4 A4 | G3 B3 F4 G4 | C3 E4 G4 C5'))
    expect(found.map(one => [one.symbol, one.roman, one.inversion, one.from])).toEqual([
      ['C', 'I', 0, 'notes'],
      ['F', 'IV', 0, 'notes'],
      ['G7', 'V7', 0, 'notes'],
      ['C', 'I', 0, 'notes'],
    ])
    expect(found.map(one => toDecimal(one.onset))).toEqual([0, 1, 2, 3])
  })
  it('hears broken chords and Alberti figures as one chord each', () => {
    expect(symbols(read(line('E5 G5', 2, 1), line('C3 G3 E3 G3 B2 G3 F3 G3', 0.5, 2)))).toEqual(['C', 'G7/B'])
    expect(symbols(read(note({ length: 4, staff: 1 }), line('C3 E3 G3 C4 F3 A3 C4 F4', 0.5, 2)))).toEqual(['C', 'F'])
  })
  it('does not take passing and neighbour notes for chords', () => {
    expect(
      symbols(
        read(
          line('E5 D5 C5 D5 E5 F5 G5 F5', 0.5, 1),
          note({ pitch: 'C3', length: 4, staff: 2 }) + backup(4) + note({ pitch: 'G3', length: 4, staff: 2 }),
        ),
      ),
    ).toEqual(['C'])
  })
  it('says nothing of two voices in sixths or fifths, or of one note; a third over its root is a chord without its fifth', () => {
    expect(
      harmonyOf(read(note({ pitch: 'E4', length: 4, staff: 1 }), note({ pitch: 'G3', length: 4, staff: 2 }))),
    ).toEqual([])
    expect(
      harmonyOf(read(note({ pitch: 'E4', length: 4, staff: 1 }), note({ pitch: 'C3', length: 4, staff: 2 }))),
    ).toMatchObject([{ symbol: 'C', missing: ['G'] }])
    expect(
      harmonyOf(read(note({ pitch: 'G4', length: 4, staff: 1 }), note({ pitch: 'C3', length: 4, staff: 2 }))),
    ).toEqual([])
    expect(harmonyOf(read(note({ pitch: 'G4', length: 4, staff: 1 }), note({ length: 4, staff: 2 })))).toEqual([])
  })
  it('says what is missing', () =>
    expect(harmonyOf(chords('C3 E4 Bb4', 4))[0]).toMatchObject({ symbol: 'C7', missing: ['G'] }))
  it('what comes next decides between a sixth chord and a seventh', () => {
    expect(symbols(chords('C3 E4 G4 C5 | F3 A3 C4 D4 | G3 B3 D4 G4 | C3 E4 G4 C5'))[1]).toBe('Dm7/F')
    expect(symbols(chords('F3 A3 C4 F4 | F3 A3 C4 D4 | Bb2 D4 F4 Bb4 | F3 A3 C4 F4', 1, -1))[1]).toBe('F6')
  })
  it('follows chord symbols where there are some', () => {
    const song = chords('C3 E4 G4 | F3 A3 C4')
    const found = harmonyOf({
      ...song,
      chords: [{ onset: quarters(0), symbol: 'G5', name: 'G fifth', inversion: 0, bass: 'G', notes: ['G', 'D'] }],
    })
    expect(found.map(one => [one.symbol, one.from, one.roman])).toEqual([['G5', 'symbol', 'V5']])
  })
  it('is the same song in every key and octave', () => {
    const text =
      'C3 E4 G4 C5 | A2 E4 A4 C5 | D3 F4 A4 D5 | G2 F4 B4 D5 | C3 E4 G4 C5 | D3 F#4 A4 C5 | G2 G4 B4 D5 | C3 E4 G4 C5'
    const roots = (by: number) =>
      harmonyOf({
        ...chords(text),
        notes: chords(text).notes.map(one => ({
          ...one,
          pitch: one.pitch + by,
          spelled: Note.transpose(one.spelled, by === 12 ? '8P' : by === 2 ? '2M' : by === 5 ? '4P' : '1P'),
        })),
      }).map(one => [
        toDecimal(one.onset),
        (Note.chroma(one.notes[0]!)! - by + 24) % 12,
        one.symbol.replace(/^[A-G][#b]*/, '').replace(/\/.*/, ''),
      ])
    for (const by of [2, 5, 12]) expect(roots(by)).toEqual(roots(0))
  })
  it('of a part is what it is in the song', () => {
    const song = chords(
      'C3 E4 G4 C5 | F3 C4 F4 A4 | G3 B3 F4 G4 | C3 E4 G4 C5 | A2 C4 E4 A4 | D3 D4 F4 A4 | G2 D4 F4 B4 | C3 E4 G4 C5',
    )
    expect(harmonyOf(song, { from: quarters(4), to: quarters(8) }).map(one => one.symbol)).toEqual(
      symbols(song).slice(-4),
    )
  })

  it('goes on through a change of what is heard under one name, also into a part that begins there', () => {
    // F6 before what it does not lead to, and F6 again: two ways to hear it, one chord.
    const song = chords(
      'F3 A3 C4 D4 | F3 A3 C4 D4 | F3 A3 C4 D4 | F3 A3 C4 D4 | F3 A3 C4 D4 | F3 A3 C4 D4 | F3 A3 C4 D4 | F3 A3 C4 D4',
      4,
      -1,
    )
    expect(harmonyOf(song).map(one => [one.symbol, toDecimal(one.onset), toDecimal(one.end)])).toEqual([['F6', 0, 32]])
    expect(
      harmonyOf(song, { from: quarters(16), to: quarters(32) }).map(one => [one.symbol, toDecimal(one.end)]),
    ).toEqual([['F6', 32]])
  })

  const KINDS = [
    'M',
    'm',
    'dim',
    'aug',
    'sus4',
    '6',
    '7',
    'maj7',
    'm7',
    'mMaj7',
    'm7b5',
    '7sus4',
    '9',
    'maj9',
    'm9',
    'add9',
    '69',
    '13',
    '7b9',
    '7#5',
    'maj13',
    '7#11',
  ]
  it.each(KINDS)('a bar of %s on every root is named so (tonal)', kind => {
    // Roots a half step apart lead nowhere.
    const roots = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
    const song = chords(
      roots
        .map(root => {
          let last = Note.midi(`${root}3`)! - 1
          return Chord.getChord(kind, root)
            .notes.map(name => {
              let pitch = Note.midi(`${name}2`)!
              while (pitch <= last) pitch += 12
              last = pitch
              return Note.fromMidi(pitch)
            })
            .join(' ')
        })
        .join(' | '),
      4,
    )
    // Spelled from the key, as what comes from a MIDI file.
    const named = harmonyOf({ ...song, tracks: [] })
    expect(named.map(one => one.symbol.replace(/^[A-G][#b]*/, ''))).toEqual(roots.map(() => (kind === 'M' ? '' : kind)))
    expect(named.map(one => Note.chroma(one.notes[0]!))).toEqual(roots.map(root => Note.chroma(root)))
  })
})

describe('degrees', () => {
  it.each([
    ['D7', 'G', 'C', false, 'V7/V'],
    ['D', 'G', 'C', false, 'V/V'],
    ['A7', 'Dm', 'C', false, 'V7/ii'],
    ['C7', 'F', 'C', false, 'V7/IV'],
    ['E7', 'Am', 'C', false, 'V7/vi'],
    ['F#dim7', 'G', 'C', false, 'vii°7/V'],
    ['G#m7b5', 'Am', 'C', false, 'viiø7/vi'],
    ['G7', 'C', 'C', false, 'V7'],
    ['G', 'C', 'C', false, 'V'],
    ['D7', 'F', 'C', false, 'II7'],
    ['Bdim', 'C', 'C', false, 'vii°'],
    ['C', 'F', 'C', false, 'I'],
    ['Eb', 'Ab', 'C', false, '♭III'],
    ['E7', 'Am', 'A', true, 'V7'],
    ['G7', 'C', 'A', true, 'VII7'],
    ['G#dim7', 'Am', 'A', true, 'vii°7'],
    ['A7', 'Dm', 'A', true, 'V7/iv'],
    ['B7', 'E', 'A', true, 'V7/V'],
  ])('%s before %s in %s (minor: %s) is %s', (symbol, next, tonic, isMinor, roman) =>
    expect(romanNumeral(symbol, tonic, isMinor, next)).toBe(roman),
  )
})

describe('a plan of chords', () => {
  const plan = (text: string, length = 2) => {
    const song = chords(text, length)
    const stretch = { from: quarters(0), to: quarters(song.bars.length * 4) }
    return chordPlan(song, stretch, harmonyOf(song))
  }
  it('counts bars, half bars or beats, whichever all chords fit', () => {
    expect(plan('C3 E4 G4 C5 | C3 E4 G4 C5 | F3 C4 F4 A4 | G3 B3 D4 G4', 4)).toEqual({
      unit: 'bar',
      turns: [
        {
          chords: [
            { symbol: 'C', count: 2 },
            { symbol: 'F', count: 1 },
            { symbol: 'G', count: 1 },
          ],
          times: 1,
        },
      ],
    })
    expect(plan('C3 E4 G4 C5 | F3 C4 F4 A4 | G3 B3 D4 G4 | G3 B3 D4 G4')).toMatchObject({
      unit: 'half bar',
      turns: [{ chords: [{ count: 1 }, { count: 1 }, { count: 2 }] }],
    })
    expect(plan('C3 E4 G4 C5 | F3 C4 F4 A4 | G3 B3 D4 G4 | C3 E4 G4 C5', 1)).toMatchObject({ unit: 'beat' })
  })
  it('says what comes again at once so many times', () => {
    const turn = 'C3 E4 G4 C5 | A2 C4 E4 A4'
    expect(
      plan(`${turn} | ${turn} | ${turn} | F3 C4 F4 A4 | G3 B3 D4 G4`, 4)!.turns.map(({ chords: list, times }) => [
        list.map(one => one.symbol).join(' '),
        times,
      ]),
    ).toEqual([
      ['C Am', 3],
      ['F G', 1],
    ])
  })
  it('is none where between two chords nothing is clear', () => {
    const song = chords('C3 E4 G4', 8)
    expect(
      chordPlan(song, { from: quarters(0), to: quarters(8) }, [
        { onset: quarters(0), end: quarters(2), symbol: 'C' },
        { onset: quarters(4), end: quarters(8), symbol: 'F' },
      ]),
    ).toBeUndefined()
  })
  it('is none where chords change between beats, or none is heard', () => {
    expect(chordPlan(chords('C3'), { from: quarters(0), to: quarters(4) }, [])).toBeUndefined()
    expect(
      chordPlan(chords('C3 E4 G4', 4), { from: quarters(0), to: quarters(4) }, [
        { onset: quarters(0), end: quarters(1, 2), symbol: 'C' },
        { onset: quarters(1, 2), end: quarters(4), symbol: 'F' },
      ]),
    ).toBeUndefined()
  })
  it('begins behind a pickup', () => {
    const song = readMusicXml(
      bytesOf(
        pianoScore([
          ['number="0" implicit="yes"', attributes() + quarterNotes('G4')],
          quarterNotes('C4 E4 G4 C5'),
          quarterNotes('F4 A4 C5 F5'),
        ]),
      ),
    ).arrangement
    expect(
      chordPlan(song, { from: quarters(0), to: quarters(9) }, [
        { onset: quarters(0), end: quarters(5), symbol: 'C' },
        { onset: quarters(5), end: quarters(9), symbol: 'F' },
      ]),
    ).toMatchObject({ unit: 'bar', turns: [{ chords: [{ count: 1 }, { count: 1 }] }] })
  })
})
