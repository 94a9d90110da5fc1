/** Facts of the trade about the two hands, as references.md lists them (common practice), and chords against tonal. */
import { describe, expect, it } from 'vitest'
import { Chord, Note, Progression, Scale } from 'tonal'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { nameChord } from '../music/chord-name'
import { romanNumeral } from '../music/roman-numeral'
import { spellSymbol } from '../music/chord-symbol'
import { countAt, countBar, subdivisionOf } from '../music/counting'
import { spellInKey } from '../music/pitch'
import { displayName } from '../words/note-names'
import { quarters } from '../music/quarters'
import { coincidences, inWords } from './together'
import { separateHands } from './separate'
import { describeChange, leadVoices, movement } from './voice-leading'
import { voiceChords } from './voicing'

const midi = (names: string) => names.split(' ').map(name => Note.midi(name)!)
const keys = (names: string, fingers = '') =>
  names.split(' ').map((name, index) => ({
    pitch: Note.midi(name)!,
    name: name.replace(/\d/, ''),
    ...(fingers ? { finger: Number(fingers[index]) } : {}),
  }))

describe('from chord to chord', () => {
  it('A–C–E to A–D–F: the little finger stays, two voices move up together, a whole and a half step', () => {
    expect(leadVoices(midi('A2 C3 E3'), midi('A2 D3 F3')).map(move => move.by)).toEqual([0, 2, 1])
    expect(describeChange(keys('A2 C3 E3', '521'), keys('A2 D3 F3', '521'))).toBe(
      '5 stays on A; 2 and 1 go up together',
    )
  })
  it('G minor over a falling bass: only the lowest note moves', () => {
    for (const [from, to] of [
      ['G3 Bb3 D4', 'F#3 Bb3 D4'],
      ['F#3 Bb3 D4', 'F3 Bb3 D4'],
      ['F3 Bb3 D4', 'E3 Bb3 D4'],
    ] as const) {
      const moves = leadVoices(midi(from), midi(to))
      expect(moves.slice(1).map(move => move.by)).toEqual([0, 0])
      expect(moves[0]!.by).toBe(-1)
    }
    expect(describeChange(keys('G3 Bb3 D4', '521'), keys('F#3 Bb3 D4', '521'))).toBe(
      '2 stays on Bb; 1 stays on D; 5 goes down a half step',
    )
  })
  it('A–D–F♯–A to B–D–G–B: D is the common tone and stays', () => {
    const moves = leadVoices(midi('A3 D4 F#4 A4'), midi('B3 D4 G4 B4'))
    expect(moves.map(move => move.by)).toEqual([2, 0, 1, 2])
    expect(movement(moves)).toBe(5)
  })
  it('a voice that comes is added, one that goes is let go', () => {
    expect(describeChange(keys('C4 E4 G4'), keys('C4 E4'))).toContain('G is let go')
    expect(describeChange(keys('C4 E4'), keys('C4 E4 G4', '135'))).toContain('5 adds G')
  })
  it('ii7 V7 Imaj7 moves each voice by a third at most, the same in all twelve keys', () => {
    for (const tonic of ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']) {
      const scale = Scale.get(`${tonic} major`).notes
      const symbols = [`${scale[1]}m7`, `${scale[4]}7`, `${tonic}maj7`]
      expect(symbols.map(symbol => romanNumeral(symbol, tonic))).toEqual(['ii7', 'V7', 'Imaj7'])
      const voicings = voiceChords(symbols.map(symbol => ({ notes: spellSymbol(symbol).notes })))
      for (let at = 1; at < voicings.length; at++)
        expect(
          Math.max(...leadVoices(voicings[at - 1]!, voicings[at]!).map(move => Math.abs(move.by))),
        ).toBeLessThanOrEqual(3)
    }
  })
})

describe('chord names', () => {
  it.each([
    ['C4 E4 G4', 'C', 0],
    ['E4 G4 C5', 'C/E', 1],
    ['G3 C4 E4', 'C/G', 2],
    ['B2 D3 F3 G3', 'G7/B', 1],
    ['F3 A3 C4 E4', 'Fmaj7', 0],
    ['D4 F#4 A4 C5', 'D7', 0],
    ['A3 C4 E4', 'Am', 0],
    ['A3 D4 F#4 A4', 'D/A', 2],
    ['B3 D4 G4 B4', 'G/B', 1],
    ['B3 D4 F4', 'Bdim', 0],
    ['C4 F4 G4', 'Csus4', 0],
  ])('%s is %s', (notes, symbol, inversion) => {
    expect(nameChord(notes.split(' '))).toMatchObject({ symbol, inversion, missing: [] })
  })
  it('a seventh without its fifth is still a seventh, and says what is missing', () =>
    expect(nameChord(['G3', 'B3', 'F4'])).toMatchObject({ symbol: 'G7', missing: ['D'] }))
  it('triads and sevenths on every root are named as tonal spells them, in every inversion', () => {
    for (const root of ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']) {
      for (const [type, suffix] of [
        ['major', ''],
        ['minor', 'm'],
        ['dominant seventh', '7'],
        ['major seventh', 'maj7'],
      ] as const) {
        const { notes } = Chord.getChord(type, root)
        for (let turn = 0; turn < notes.length; turn++) {
          const turned = [...notes.slice(turn), ...notes.slice(0, turn)]
          expect(nameChord(turned.map(name => `${name}4`))!.symbol).toBe(
            `${root}${suffix}${turn === 0 ? '' : `/${turned[0]}`}`,
          )
        }
      }
    }
  })
  it("roman numerals agree with tonal's degrees, small for minor", () => {
    const symbols = ['C', 'Dm', 'Em', 'F', 'G7', 'Am7', 'Bm7b5', 'Bb', 'Ebmaj7']
    expect(symbols.map(symbol => romanNumeral(symbol, 'C'))).toEqual([
      'I',
      'ii',
      'iii',
      'IV',
      'V7',
      'vi7',
      'viiø7',
      '♭VII',
      '♭IIImaj7',
    ])
    const theirs = Progression.toRomanNumerals('C', symbols).map(one =>
      one
        .replace(/^b/, '♭')
        .replace(/(?<=[IV])(m|maj|7|b).*$/, '')
        .toUpperCase(),
    )
    expect(
      symbols.map(symbol =>
        romanNumeral(symbol, 'C')
          .replace(/(maj7|ø7|7)$/, '')
          .toUpperCase(),
      ),
    ).toEqual(theirs)
    expect(['Am', 'Bdim', 'C', 'Dm', 'E7', 'F', 'G'].map(symbol => romanNumeral(symbol, 'A', true))).toEqual([
      'i',
      'ii°',
      'III',
      'iv',
      'V7',
      'VI',
      'VII',
    ])
  })
})

describe('counting', () => {
  const four = { beats: 4, beatType: 4 }
  it('eighths, sixteenths and triplets', () => {
    expect([0, 1, 2, 3].map(n => countAt(four, quarters(n, 2)))).toEqual(['1', '&', '2', '&'])
    expect([4, 5, 6, 7].map(n => countAt(four, quarters(n, 4)))).toEqual(['2', 'e', '&', 'a'])
    expect([6, 7, 8].map(n => countAt(four, quarters(n, 3)))).toEqual(['3', 'trip', 'let'])
    expect(countAt(four, quarters(1, 8))).toBe('')
  })
  it('6/8 in six, 12/8 in four pulses, 2/2 in halves', () => {
    expect([0, 1, 2, 3, 4, 5].map(n => countAt({ beats: 6, beatType: 8 }, quarters(n, 2)))).toEqual([
      '1',
      '2',
      '3',
      '4',
      '5',
      '6',
    ])
    expect([0, 1, 2, 3].map(n => countAt({ beats: 12, beatType: 8 }, quarters(n, 2)))).toEqual(['1', '&', 'a', '2'])
    expect([0, 1, 2].map(n => countAt({ beats: 2, beatType: 2 }, quarters(n)))).toEqual(['1', '&', '2'])
  })
  it('a whole bar aloud', () => {
    expect(countBar(four, 4).join(' ')).toBe('1 e & a 2 e & a 3 e & a 4 e & a')
    expect(countBar({ beats: 3, beatType: 4 }, 3).join(' ')).toBe('1 trip let 2 trip let 3 trip let')
    expect(countBar({ beats: 9, beatType: 8 }, 1).join(' ')).toBe('1 & a 2 & a 3 & a')
  })
  it('the subdivision a part needs', () =>
    expect([
      subdivisionOf(four, [quarters(0), quarters(1)]),
      subdivisionOf(four, [quarters(1, 2)]),
      subdivisionOf(four, [quarters(2, 3)]),
      subdivisionOf(four, [quarters(3, 4)]),
    ]).toEqual([1, 2, 3, 4]))
})

describe('note names', () => {
  it.each([
    ['F#4', 'F♯4', 'Fa♯4', 'Fis4'],
    ['Bb3', 'B♭3', 'Si♭3', 'B3'],
    ['B3', 'B3', 'Si3', 'H3'],
    ['Eb5', 'E♭5', 'Mi♭5', 'Es5'],
    ['Ab2', 'A♭2', 'La♭2', 'As2'],
    ['C##4', 'C♯♯4', 'Do♯♯4', 'Cisis4'],
    ['Bbb4', 'B♭♭4', 'Si♭♭4', 'Heses4'],
    ['Db4', 'D♭4', 'Re♭4', 'Des4'],
  ])('%s', (spelled, letters, solfege, german) => {
    expect([displayName(spelled), displayName(spelled, true, 'solfege'), displayName(spelled, true, 'german')]).toEqual(
      [letters, solfege, german],
    )
  })
  it("C♯ minor's dominant has B♯", () =>
    expect(['G#4', 'C5', 'D#5'].map(name => spellInKey(Note.midi(name)!, 4))).toEqual(['G#4', 'B#4', 'D#5']))
})

describe('the hands together', () => {
  it('says what falls together and what alternates, with the count under it', () => {
    const { arrangement } = readMusicXml(
      bytesOf(
        pianoScore([
          attributes({ staves: 2 }) +
            note({ pitch: 'C5', length: 1, staff: 1 }) +
            note({ pitch: 'D5', length: 0.5, staff: 1 }) +
            note({ pitch: 'E5', length: 0.5, staff: 1 }) +
            quarterNotes('r F5', 1) +
            backup(4) +
            note({ pitch: 'C3', length: 2, staff: 2 }) +
            note({ pitch: 'G3', length: 2, staff: 2 }),
        ]),
      ),
    )
    const moments = coincidences(arrangement, { from: quarters(0), to: quarters(4) })
    expect(inWords(moments)).toBe('together – right – right – left – right')
    expect(moments.map(moment => moment.count)).toEqual(['1', '2', '&', '3', '4'])
  })

  const loose = (right: [number, number, string][], left: [number, number, string][]) => {
    const notes = [...right.map(one => ({ one, hand: 'right' })), ...left.map(one => ({ one, hand: 'left' }))]
      .flatMap(({ one: [onset, length, names], hand }) =>
        midi(names).map(pitch => ({ onset, end: onset + length, pitch, hand })),
      )
      .sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)
    const found = separateHands(
      notes.map(({ onset, end, pitch }) => ({ onset, end, pitch })),
      0.6,
    )
    return notes.filter((one, index) => one.hand === found[index]).length / notes.length
  }
  const melody: [number, number, string][] = ['E5', 'D5', 'C5', 'D5', 'E5', 'G5', 'E5', 'C5'].map((name, index) => [
    index,
    1,
    name,
  ])
  it.each([
    [
      'broken chords',
      melody,
      [0, 4].flatMap(bar =>
        ['C3', 'G3', 'E3', 'G3', 'C3', 'G3', 'E3', 'G3'].map((name, index): [number, number, string] => [
          bar + index / 2,
          0.5,
          name,
        ]),
      ),
    ],
    [
      'a bass and afterbeats',
      melody,
      [0, 2, 4, 6].flatMap((at): [number, number, string][] => [
        [at, 1, 'C2'],
        [at + 1, 1, 'E3 G3 C4'],
      ]),
    ],
    [
      'octaves low and chords high',
      ([0, 2, 4, 6] as const).map((at): [number, number, string] => [at, 2, 'C5 E5 G5']),
      [0, 2, 4, 6].map((at): [number, number, string] => [at, 2, 'C2 C3']),
    ],
    [
      'a melody that goes down to middle C',
      ['G4', 'E4', 'C4', 'E4', 'G4', 'C5', 'G4', 'E4'].map((name, index): [number, number, string] => [index, 1, name]),
      [
        [0, 4, 'C3 G3'],
        [4, 4, 'F2 C3'],
      ],
    ],
  ] as [string, [number, number, string][], [number, number, string][]][])(
    '%s on one track are told apart',
    (_name, right, left) => expect(loose(right, left)).toBeGreaterThanOrEqual(0.97),
  )
})
