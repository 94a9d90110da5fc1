/**
 * Chord charts: bars and slashes as musicians write them (common practice), and ChordPro (its published directives).
 * Chord notes against tonal.
 */
import fc from 'fast-check'
import { Chord, Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { parseChordSymbol, spellSymbol } from '../../music/chord-symbol'
import { positionOf } from '../../music/arrangement'
import { UnusableInput } from '../unusable'
import { arrangeChart, type ChartChoices } from './chart-arrangement'
import { readChart } from './read-chart'

const song = (text: string, choices?: ChartChoices) => arrangeChart(readChart(text), 'A chart', choices)
const chords = (text: string) => {
  const { arrangement } = song(text)
  return arrangement.chords.map(
    chord => `${chord.symbol}@${positionOf(arrangement, chord.onset).bar}:${positionOf(arrangement, chord.onset).beat}`,
  )
}

describe('bars and slashes', () => {
  it('gives each chord and each slash a beat', () =>
    expect(chords('| C / G/B / | Am / / / |')).toEqual(['C@1:1', 'G/B@1:3', 'Am@2:1']))
  it('lets one chord hold the bar and two share it', () =>
    expect(chords('| C | F G |')).toEqual(['C@1:1', 'F@2:1', 'G@2:3']))
  it('counts in the meter that is given', () =>
    expect(chords('meter: 3/4\n| C / G7 | F |')).toEqual(['C@1:1', 'G7@1:3', 'F@2:1']))
  it('repeats the bar before, and what stands between repeat signs', () =>
    expect(chords('| C | % |: F | G :| x3')).toEqual([
      'C@1:1',
      'C@2:1',
      'F@3:1',
      'G@4:1',
      'F@5:1',
      'G@6:1',
      'F@7:1',
      'G@8:1',
    ]))
  it('names sections, and leaves a bar without a chord silent', () => {
    const { arrangement } = song('[Verse]\n| C | N.C. |\n[Chorus]\n| F |')
    expect(arrangement.rehearsals.map(({ name, onset }) => [name, onset.n])).toEqual([
      ['Verse', 0],
      ['Chorus', 8],
    ])
    expect(arrangement.notes.some(note => note.onset.n === 4)).toBe(false)
    expect(arrangement.bars.filter(bar => bar.sectionEnd).map(bar => bar.number)).toEqual([2, 3])
  })
  it('takes a letter in brackets for a section where bars have strokes', () =>
    expect(song('[A]\n| C |\n[B]\n| F |').arrangement.rehearsals.map(one => one.name)).toEqual(['A', 'B']))
  it('takes title, key and tempo from the lines above', () => {
    const { arrangement, guesses } = song('title: Quay\nkey: F#m\ntempo: 76\n| F#m | E7 |')
    expect([arrangement.title, arrangement.bars[0]!.fifths, arrangement.tempos[0]!.quarterBpm]).toEqual(['Quay', 3, 76])
    expect(guesses.map(one => one.about)).toEqual(['notes'])
  })
  it.each([
    ['| C / / |', 'line 1: the bar "C / /" has 3 beats and the meter has 4'],
    ['| C |\n| Hx |', 'line 2: "Hx" is not a chord symbol'],
    ['| % |', 'line 1: "%" repeats the bar before'],
    ['only words', 'no chord was found'],
    ['key: Q\n| C |', 'line 1: a key such as'],
    ['meter: 4/5\n| C |', 'line 1: a meter such as'],
  ])('says of %j what is wrong and where', (text, message) => expect(() => readChart(text)).toThrow(message))
})

describe('ChordPro', () => {
  const text =
    '{title: Low Water}\n{composer: Somebody}\n{start_of_verse: Verse 1}\nO [C]slow and [G7]grey the\n[Am]river [F]\n{end_of_verse}\n{soc}\n[F]Home\n{eoc}\n{chorus}\n{sot}\n[x]--3--\n{eot}'
  it('reads title, sections, chords over words, and the chorus again', () => {
    const { arrangement, guesses } = song(text)
    expect([arrangement.title, arrangement.composer]).toEqual(['Low Water', 'Somebody'])
    expect(arrangement.chords.map(chord => chord.symbol)).toEqual(['C', 'G7', 'Am', 'F', 'F', 'F'])
    expect(arrangement.lyrics.map(lyric => lyric.text)).toEqual(['slow and', 'grey the', 'river', 'Home', 'Home'])
    expect(arrangement.rehearsals.map(one => one.name)).toEqual(['Verse 1', 'Chorus', 'Chorus'])
    expect(guesses.map(one => one.about)).toContain('bars')
  })
  it('lets two chords share a bar when the player says so', () =>
    expect(song(text, { barsPerChord: 0.5 }).arrangement.bars).toHaveLength(4))
  it('reads a grid as bars', () =>
    expect(chords('{sog}\n| C . G . | F . . . |\n{eog}')).toEqual(['C@1:1', 'G@1:3', 'F@2:1']))
})

describe('chord symbols', () => {
  const roots = ['C', 'C#', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B']
  it.each([
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
    '7sus4',
    '6',
    'm6',
    '9',
    'maj9',
    'm9',
    '13',
    'mMaj7',
    '5',
  ])('"%s" on every root has the notes that tonal gives it', type => {
    for (const root of roots)
      expect(spellSymbol(root + type).notes.map(note => Note.chroma(note))).toEqual(
        Chord.getChord(type === '' ? 'M' : type, root).notes.map(note => Note.chroma(note)),
      )
  })
  it.each([
    ['C-7', 'Cm7'],
    ['Cmin7', 'Cm7'],
    ['CΔ', 'Cmaj7'],
    ['CM7', 'Cmaj7'],
    ['C°7', 'Cdim7'],
    ['Cø', 'Cm7b5'],
    ['C+', 'Caug'],
    ['B♭7', 'Bb7'],
    ['F♯m', 'F#m'],
    ['G7(b9)', 'G7b9'],
    ['Dm(maj7)', 'DmMaj7'],
  ])('%s is another spelling of %s', (one, other) => expect(spellSymbol(one).symbol).toBe(other))
  it('knows inversions from the bass', () =>
    expect(['C/E', 'C/G', 'C7/Bb', 'C/D'].map(symbol => spellSymbol(symbol).inversion)).toEqual([1, 2, 3, null]))
  it('takes a symbol apart into root, type, degrees and bass', () =>
    expect(parseChordSymbol('C7#9/E', ['', '7'])).toEqual({
      root: 'C',
      suffix: '7',
      degrees: [{ value: 9, alter: 1, kind: 'add' }],
      bass: 'E',
    }))
})

describe('nearest inversions', () => {
  it('C to F to G to C moves little: no voice by more than a fourth, common tones stay (common practice)', () => {
    const { arrangement } = song('| C | F | G | C |')
    const right = [0, 4, 8, 12].map(at =>
      arrangement.notes.filter(note => note.hand === 'right' && note.onset.n === at).map(note => note.pitch),
    )
    const moves = right
      .slice(1)
      .map((chord, index) => chord.map((pitch, voice) => Math.abs(pitch - right[index]![voice]!)))
    expect(moves[0]).toContain(0)
    expect(Math.max(...moves.flat())).toBeLessThanOrEqual(5)
    expect(moves.flat().reduce((sum, one) => sum + one, 0)).toBeLessThanOrEqual(13)
  })
})

it('answers or refuses 10,000 mutated charts, and never fails otherwise', () => {
  const base =
    'title: X\nkey: G\n[Verse]\n|: C / G/B / | Am7 / D7 / :| x2\n{sov}\n[C]la [F#m7b5]la\n{eov}\n{chorus}\n| % | N.C. |'
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(
          fc.nat(base.length),
          fc.constantFrom('|', '[', ']', '{', '}', ':', '/', '%', '9', 'x', 'b', '#', '\n', ' ', 'Ω', ''),
        ),
        { minLength: 1, maxLength: 12 },
      ),
      changes => {
        let text = base
        for (const [at, piece] of changes) text = text.slice(0, at) + piece + text.slice(at + 1)
        try {
          song(text)
        } catch (error) {
          expect(error).toBeInstanceOf(UnusableInput)
        }
      },
    ),
    { numRuns: 10_000, seed: 6 },
  )
})
