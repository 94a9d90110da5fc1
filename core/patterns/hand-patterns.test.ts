/** What hands play to chords. Facts of the trade are common practice; chord tones against tonal. */
import fc from 'fast-check'
import { Chord, Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { readSong } from '../formats/read-score'
import { spellSymbol } from '../music/chord-symbol'
import { fingerPart } from '../hands/part-fingering'
import { arrangementEnd, positionIn, type Arrangement, type Hand } from '../music/arrangement'
import { add, compare, toDecimal, ZERO } from '../music/quarters'
import { harmonyOf } from '../music/song-harmony'
import { MUDDY } from './hand-keys'
import { barOf, canPlayIn, metersOfHand, onBeats, type HandPattern } from './hand-pattern'
import { HAND_PATTERNS, handPatternNamed } from './hand-patterns'
import { nextStepUp, patternDifficulty } from './pattern-difficulty'
import { patternFrom } from './read-documents'
import { harmonyIndexAt } from './placed'
import { NoPattern, withPattern } from './with-pattern'
import { patternDocument } from './write-documents'

const pattern = (name: string): HandPattern => handPatternNamed(name)!
const accompanied = (text: string, name: string, hand: Hand = 'left'): Arrangement =>
  readSong(new TextEncoder().encode(text), 'a.txt', { patterns: { [hand]: pattern(name) } }).arrangement
/** A hand's strokes: "beat: notes". */
function strokes(arrangement: Arrangement, hand: Hand = 'left', bar = 1): string[] {
  const own = arrangement.notes.filter(
    note => note.hand === hand && arrangement.bars[note.barIndex]!.number === bar && !note.grace,
  )
  const beats = [...new Set(own.map(note => positionIn(arrangement.bars[note.barIndex]!, note.onset).beat))]
  return beats.map(
    beat =>
      `${Math.round(beat * 100) / 100}: ${own
        .filter(note => positionIn(arrangement.bars[note.barIndex]!, note.onset).beat === beat)
        .map(note => note.spelled)
        .join(' ')}`,
  )
}
const left = (arrangement: Arrangement, bar: number) =>
  arrangement.notes
    .filter(note => note.hand === 'left' && arrangement.bars[note.barIndex]!.number === bar)
    .map(note => note.pitch)

describe('what is taught', () => {
  it('a waltz: the bass on 1, the upper chord notes together on 2 and 3', () => {
    expect(strokes(accompanied('meter: 3/4\n| C | F |', 'waltz'))).toEqual(['1: C3', '2: E3 G3', '3: E3 G3'])
  })
  it('a broken chord: low, high, middle, high, in eighths', () => {
    expect(strokes(accompanied('| C |', 'broken'))).toEqual([
      '1: C3',
      '1.5: G3',
      '2: E3',
      '2.5: G3',
      '3: C3',
      '3.5: G3',
      '4: E3',
      '4.5: G3',
    ])
  })
  it('a spread tenth: root, fifth, third an octave up', () => {
    expect(
      strokes(accompanied('| C |', 'tenth'))
        .slice(0, 3)
        .map(one => one.split(': ')[1]),
    ).toEqual(['C2', 'G2', 'E3'])
  })
  it('the bossa clave: 0, 3, 6, 10 and 13 sixteenths, on the chord and on root and octave', () => {
    for (const name of ['bossa-chord', 'bossa-octave'])
      expect(strokes(accompanied('| C |', name)).map(one => (Number(one.split(':')[0]) - 1) * 4)).toEqual([
        0, 3, 6, 10, 13,
      ])
    expect(strokes(accompanied('| C |', 'bossa-octave')).map(one => one.split(': ')[1])).toEqual([
      'C2',
      'C3',
      'C2',
      'C3',
      'C2',
    ])
    // The rhythm is one, whatever the chord does within it.
    expect(strokes(accompanied('| C / G / |', 'bossa-octave')).map(one => (Number(one.split(':')[0]) - 1) * 4)).toEqual(
      [0, 3, 6, 8, 10, 13],
    )
  })
  it('a boogie figure whose third comes from the half step below', () => {
    const notes = accompanied('| C |', 'boogie').notes.filter(note => note.hand === 'left')
    expect(notes.slice(0, 5).map(note => [Note.pitchClass(note.spelled), note.grace !== undefined])).toEqual([
      ['C', false],
      ['Eb', true],
      ['E', false],
      ['G', false],
      ['A', false],
    ])
  })
  it('a walking bass: steps that arrive a step, a fourth or a fifth from the next chord, each in the scale or the chord', () => {
    const walked = accompanied('key: C\n| C | Am | F | G | C |', 'walking')
    const line = walked.notes.filter(note => note.hand === 'left')
    expect(line).toHaveLength(20)
    for (let bar = 1; bar < 5; bar++) {
      const [last, next] = [left(walked, bar).at(-1)!, left(walked, bar + 1)[0]!]
      expect([1, 2, 5, 7]).toContain(Math.abs(next - last))
    }
    expect(line.every((note, index) => index === 0 || note.pitch !== line[index - 1]!.pitch)).toBe(true)
  })
  it('call and answer: where one plays the other rests', () => {
    const song = accompanied('| C | Am | F | G7 |', 'call-and-answer')
    const [right, answer] = (['right', 'left'] as const).map(hand => song.notes.filter(note => note.hand === hand))
    expect(answer!.length).toBeGreaterThan(8)
    for (const note of answer!)
      expect(
        right!.some(
          other => compare(other.onset, note.onset) <= 0 && compare(add(other.onset, other.duration), note.onset) > 0,
        ),
      ).toBe(false)
  })
  it('arpeggios over one octave and two, and up and back', () => {
    const names = (name: string) =>
      strokes(accompanied('| C |', name))
        .map(one => Note.pitchClass(one.split(': ')[1]!))
        .join(' ')
    expect(names('arpeggio-one')).toBe('C E G C C E G C')
    expect(names('arpeggio-two')).toBe('C E G C E G C')
    expect(names('arpeggio-up-and-back')).toBe('C E G C E C G E')
  })
})

describe('from chord to chord', () => {
  it('keeps the common tone from A minor to D minor, and moves the other two up together', () => {
    expect([1, 2].map(bar => left(accompanied('key: Am\n| Am | Dm |', 'block-held'), bar))).toEqual([
      [57, 60, 64],
      [57, 62, 65],
    ])
  })
  it('keeps D from D to G', () => {
    const song = accompanied('key: D\n| D | G |', 'block-held')
    expect(
      left(song, 1)
        .filter(pitch => left(song, 2).includes(pitch))
        .map(pitch => pitch % 12),
    ).toEqual([2])
  })
  it('lets G minor stay over a bass that falls by half steps', () => {
    const song = accompanied('key: Bb\n| Gm | Gm/F# | Gm/F | Gm/E |', 'bass-then-upper')
    const own = accompanied('key: Bb\n| Gm | Gm/F# | Gm/F | Gm/E |', 'held-root')
    const basses = [1, 2, 3, 4].map(bar => left(own, bar)[0]!)
    expect(basses.slice(1).map((pitch, index) => pitch - basses[index]!)).toEqual([-1, -1, -1])
    for (const bar of [1, 2, 3, 4]) expect(Math.min(...left(song, bar)) % 12).toBe(basses[bar - 1]! % 12)
  })
  it('honours slash basses with every pattern', () => {
    for (const one of HAND_PATTERNS.filter(({ answers }) => !answers)) {
      const meter = metersOfHand(one).includes('4/4') ? '4/4' : '3/4'
      const song = accompanied(`meter: ${meter}\n| C | G/B | Am7/G | F/A |`, one.name)
      for (const [bar, bass] of [
        [2, 11],
        [3, 7],
        [4, 9],
      ] as const)
        expect(`${one.name} ${bar} ${Math.min(...left(song, bar).slice(0, 1)) % 12}`).toBe(`${one.name} ${bar} ${bass}`)
    }
  })
  it('plays nothing where the chart says that there is no chord, and takes a chord up between beats', () => {
    const song = accompanied('| C | N.C. | G |', 'block-beats')
    expect(left(song, 2)).toEqual([])
    expect(left(song, 3)).toHaveLength(12)
  })
  it('begins anew with a chord on a beat: two chords to a waltz bar have a bass each', () => {
    expect(strokes(accompanied('meter: 3/4\n| C / G |', 'waltz')).map(one => one.split(': ')[1]!)).toEqual([
      'C3',
      'E3 G3',
      'G2',
    ])
  })
})

const ROOTS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
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
  '6',
  'm6',
  '9',
  'maj9',
  'm9',
  '13',
  '7b9',
  'add9',
]
const symbol = fc
  .record({
    root: fc.constantFrom(...ROOTS),
    quality: fc.constantFrom(...QUALITIES),
    bass: fc.option(fc.constantFrom(...ROOTS), { freq: 4 }),
  })
  .map(({ root, quality, bass }) => `${root}${quality}${bass && bass !== root ? `/${bass}` : ''}`)
const bars = fc.array(
  fc.oneof(
    { weight: 3, arbitrary: symbol },
    { weight: 1, arbitrary: fc.tuple(symbol, symbol, symbol, symbol).map(chords => chords.join(' ')) },
  ),
  { minLength: 1, maxLength: 6 },
)

describe('whatever the chart', () => {
  it('no hand is wider than its reach, none crosses the other, low keys stand clear, and what is laid as the chord lies is of the chord', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...HAND_PATTERNS),
        fc.constantFrom<Hand>('left', 'right'),
        bars,
        fc.constantFrom('C', 'Eb', 'E', 'Ab', 'F#m'),
        fc.integer({ min: 7, max: 17 }),
        (one, hand, chart, key, reach) => {
          const meters = metersOfHand(one)
          const meter = meters.includes('4/4') ? '4/4' : meters[0]!
          const lines = meter === '4/4' ? chart : chart.map(bar => bar.split(' ')[0]!)
          const read = readSong(
            new TextEncoder().encode(`key: ${key}\nmeter: ${meter}\n| ${lines.join(' | ')} |`),
            'a.txt',
          ).arrangement
          let song: Arrangement
          try {
            song = withPattern(read, { pattern: one, hand, reach })
          } catch (error) {
            // Against block chords that sound all the time nobody can answer.
            expect(error).toBeInstanceOf(NoPattern)
            expect(one.answers).toBe(true)
            return
          }
          const harmonies = harmonyOf(song)
          const own = song.notes.filter(note => note.hand === hand && !note.grace)
          const other = song.notes.filter(note => note.hand !== hand)
          const sounding = (at: number, notes: typeof own) =>
            notes
              .filter(
                note => toDecimal(note.onset) <= at + 1e-9 && toDecimal(add(note.onset, note.duration)) > at + 1e-9,
              )
              .map(note => note.pitch)
          const isLaid = one.cycles.every(cycle =>
            cycle.bars.every(rows =>
              Object.keys(rows).every(tone => ['low', 'middle', 'high', 'upper', 'chord'].includes(tone)),
            ),
          )
          for (const at of new Set(own.map(note => toDecimal(note.onset)))) {
            const held = sounding(at, own).sort((a, b) => a - b)
            expect(held.at(-1)! - held[0]!).toBeLessThanOrEqual(reach)
            expect(held.length).toBeLessThanOrEqual(5)
            const against = sounding(at, other)
            if (against.length > 0)
              expect(hand === 'left' ? held.at(-1)! < Math.min(...against) : held[0]! > Math.max(...against)).toBe(true)
            if (isLaid)
              held.forEach((pitch, index) =>
                expect(
                  pitch >= MUDDY.below || index === held.length - 1 || held[index + 1]! - pitch >= MUDDY.least,
                ).toBe(true),
              )
          }
          if (isLaid) {
            for (const note of own) {
              const { notes, bass } = harmonies[harmonyIndexAt(harmonies, note.onset)]!
              expect([...notes, bass].map(name => Note.chroma(name))).toContain(note.pitch % 12)
            }
          }
          for (const note of own) expect(Note.midi(note.spelled)).toBe(note.pitch)
        },
      ),
      { numRuns: 400, seed: 19 },
    )
  })

  it('a held chord is what tonal has under its name, spelled the same, on every root', () => {
    for (const root of ROOTS) {
      for (const quality of ['', 'm', '7', 'maj7', 'm7', 'dim', 'm7b5', 'aug', 'sus4']) {
        const song = accompanied(`key: ${root === 'F#' ? 'F#' : root}\n| ${root}${quality} |`, 'block-held')
        expect(
          song.notes
            .filter(note => note.hand === 'left')
            .map(note => Note.pitchClass(note.spelled))
            .sort(),
        ).toEqual([...Chord.getChord(quality || 'M', root).notes].sort())
      }
    }
  })
})

describe('meters', () => {
  it('each pattern is as long as its bars, in every meter that it names', () => {
    for (const one of HAND_PATTERNS) {
      expect(metersOfHand(one).length).toBeGreaterThan(0)
      for (const meter of metersOfHand(one)) {
        const song = accompanied(`meter: ${meter}\n| C | F | G7 | C |`, one.name)
        const answers = song.notes.filter(note => note.hand === 'left').length
        expect(answers).toBeGreaterThan(0)
      }
    }
  })
  it('a waltz is no pattern for 4/4, and that is said', () => {
    expect(metersOfHand(pattern('waltz'))).toEqual(['3/4', '6/8', '12/8'])
    expect(() => accompanied('meter: 4/4\n| C |', 'waltz')).toThrow(
      'the pattern "waltz" is for 3/4, 6/8, 12/8, and the music is in 4/4',
    )
    expect(accompanied('| C | F |', 'waltz').bars[0]!.meter).toEqual({ beats: 3, beatType: 4 })
  })
  it('an unusual meter is taken in parts: five as three and two', () => {
    expect(canPlayIn(pattern('root-fifth'), { beats: 5, beatType: 4 })).toBe(true)
    expect(
      onBeats(pattern('root-fifth'), { beats: 5, beatType: 4 }, 5, 0).notes.map(note => [note.step, note.tone]),
    ).toEqual([
      [0, 'bass'],
      [2, 'fifth'],
      [3, 'bass'],
      [4, 'fifth'],
    ])
  })
})

describe('how hard', () => {
  it('a held root is the easiest, and faster is harder', () => {
    const level = (name: string, bpm = 100) => patternDifficulty(pattern(name), { bpm }).level
    for (const { name } of HAND_PATTERNS.slice(1)) expect(level(name)).toBeGreaterThan(level('held-root'))
    for (const { name } of HAND_PATTERNS) expect(level(name, 160)).toBeGreaterThanOrEqual(level(name, 80))
    expect(level('broken')).toBeLessThan(level('alberti'))
    expect(level('arpeggio-one')).toBeLessThan(level('arpeggio-two'))
    expect(level('bass-then-upper')).toBeLessThan(level('tenth'))
  })
  it('the next step up leads from the easiest to the hardest through all patterns of a meter', () => {
    const meter = { beats: 4, beatType: 4 }
    const measured = HAND_PATTERNS.filter(one => one.hands.includes('left') && canPlayIn(one, meter)).map(one => ({
      pattern: one,
      level: patternDifficulty(one, { meter, hand: 'left' }).level,
    }))
    const way: string[] = []
    for (let at: string | undefined = 'held-root'; at && way.length < 40; at = nextStepUp(at, measured)?.pattern.name)
      way.push(at)
    expect(new Set(way).size).toBe(way.length)
    expect(way.length).toBeGreaterThan(15)
    const levels = way.map(name => patternDifficulty(pattern(name), { meter }).level)
    expect([...levels].sort((a, b) => a - b)).toEqual(levels)
    expect(nextStepUp(way.at(-1)!, measured)).toBeUndefined()
    expect(nextStepUp('one that was not measured', measured)).toBeUndefined()
  })
})

describe('a pattern as plain data', () => {
  it('comes back from JSON as it went', () => {
    for (const one of HAND_PATTERNS) expect(patternFrom(JSON.parse(JSON.stringify(patternDocument(one))))).toEqual(one)
  })
  it('rows of other octaves, accents and slides are read', () => {
    expect(barOf({ beats: 2, division: 2 }, { "third'": 'X-|..', 'root,': '..|/.' }).notes).toEqual([
      { step: 0, length: 2, tone: 'third', octave: 1, accent: 1 },
      { step: 2, length: 1, tone: 'root', octave: -1, slide: true },
    ])
  })
  it.each([
    [{}, 'name is required'],
    [{ name: 'a', cycles: [] }, 'cycles must contain at least 1 items'],
    [
      { name: 'a', cycles: [{ beats: 99, division: 1, bars: [{}] }] },
      'cycles[0].beats must be less than or equal to 12',
    ],
    [{ name: 'a', cycles: [{ beats: 2, division: 7, bars: [{}] }] }, 'cycles[0].division must be one of [1, 2, 3, 4]'],
    [
      { name: 'a', cycles: [{ beats: 2, division: 1, bars: [{ bass: 'x?' }] }] },
      'cycles[0] failed custom validation because "?" at step 2',
    ],
    [{ name: 'a', cycles: [{ beats: 2, division: 1, bars: [{ tuba: 'x' }] }] }, '"tuba" is not a tone'],
    [{ name: 'a', cycles: [{ beats: 2, division: 1, bars: [{ bass: '..' }] }] }, 'nothing is played'],
    [{ name: 'a', cycles: [{ beats: 2, division: 1, bars: [{ bass: 'xxx' }] }] }, 'reaches to step 3; the bar has 2'],
  ])('%j is refused with what was expected', (value, message) =>
    expect(() => patternFrom(value)).toThrow(message as string),
  )
})

it('spells chord tones by the chord: the third of E7 is G♯ also in a key of flats', () => {
  const song = accompanied('key: F\n| E7 |', 'block-held')
  expect(song.notes.map(note => Note.pitchClass(note.spelled))).toContain('G#')
  expect(spellSymbol('E7').notes).toContain('G#')
})

describe('fingers', () => {
  it('of the left hand are those that are taught: 5 1 3 1 for a broken triad, 5 2 1 for a tenth, 5 1 for octaves, 5 4 2 1 for an arpeggio, 5 3 1 to 5 2 1 from C to F', () => {
    const fingers = (name: string) => {
      const song = accompanied('| C | F |', name)
      return fingerPart(song, { from: ZERO, to: arrangementEnd(song) }, 'left')
        .notes.map(({ finger }) => finger)
        .join('')
    }
    expect(fingers('broken').slice(0, 8)).toBe('51315131')
    expect(fingers('tenth').slice(0, 3)).toBe('521')
    expect(fingers('octaves')).toBe('51515151')
    expect(fingers('arpeggio-one').slice(0, 8)).toBe('54215421')
    expect(fingers('block-held')).toBe('531521')
  })
})
