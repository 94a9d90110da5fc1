/** Drills against what is taught (common practice), tonal's scales and chords, and themselves in every key. */
import { group } from 'd3-array'
import fc from 'fast-check'
import { Chord, Key, Note, Progression, Scale } from 'tonal'
import { describe, expect, it } from 'vitest'
import { isTaughtScale, KEY_NAMES } from '../../../tests/material/taught-fingers'
import { drillOf } from '../../formats/arranged'
import { readMusicXml } from '../../formats/musicxml/read'
import { chordOfNumeral } from '../../music/roman-numeral'
import type { Hand, Note as Written } from '../../music/arrangement'
import { add, compare, quarters, toDecimal } from '../../music/quarters'
import { recipeFrom } from '../read-documents'
import { recipeDocument } from '../write-documents'
import { READY_DRILLS } from './bank'
import { makeDrill, type Drill } from './drill'
import { drillKeys, keysWithSignature } from './keys'
import { KEY_ORDERS, LINE_HANDS, NoDrill, RHYTHMS, SCALE_NAMES, SCALE_STEPS, type DrillRecipe } from './recipe'

const FOUR = { beats: 4, beatType: 4 }
const recipe = (more: Partial<DrillRecipe>): DrillRecipe => ({
  title: 'A drill',
  material: { kind: 'scale', scale: 'major', octaves: 1 },
  keys: { order: 'one' },
  meter: FOUR,
  bpm: 80,
  ...more,
})
const of = ({ arrangement }: Drill, hand: Hand): Written[] => arrangement.notes.filter(note => note.hand === hand)
const names = (drill: Drill, hand: Hand = 'right') =>
  of(drill, hand)
    .map(note => note.spelled)
    .join(' ')
const fingers = (drill: Drill, hand: Hand) =>
  of(drill, hand)
    .map(note => note.finger)
    .join('')

describe('lines', () => {
  it('a scale goes up and back, with the fingers that are taught: 1 2 3 1 2 3 4 5, left 5 4 3 2 1 3 2 1', () => {
    const drill = makeDrill(recipe({ hands: 'parallel' }))
    expect(names(drill)).toBe('C4 D4 E4 F4 G4 A4 B4 C5 B4 A4 G4 F4 E4 D4 C4')
    expect(fingers(drill, 'right').slice(0, 8)).toBe('12312345')
    expect(fingers(drill, 'left').slice(0, 8)).toBe('54321321')
  })
  it('B♭ major begins on the second finger: 2 1 2 3 1 2 3 4', () => {
    expect(fingers(makeDrill(recipe({ keys: { order: 'one', from: 'Bb' } })), 'right').slice(0, 8)).toBe('21231234')
  })
  it('every scale in all keys is spelled as tonal spells it, the melodic minor one coming down as the natural one', () => {
    for (const scale of SCALE_NAMES.filter(name => name !== 'chromatic')) {
      const drill = makeDrill(
        recipe({
          material: { kind: 'scale', scale, octaves: 1 },
          keys: { order: 'chromatic', from: scale === 'major' ? 'C' : 'A' },
        }),
      )
      expect(drill.parts).toHaveLength(12)
      for (const part of drill.parts) {
        const own = of(drill, 'right')
          .filter(note => compare(note.onset, part.from) >= 0 && compare(note.onset, part.to) < 0)
          .map(note => Note.pitchClass(note.spelled))
        expect(own.slice(0, 7)).toEqual(Scale.get(`${part.tonic} ${scale === 'natural minor' ? 'minor' : scale}`).notes)
        expect(own.slice(8).reverse()).toEqual(
          Scale.get(`${part.tonic} ${scale === 'natural minor' || scale === 'melodic minor' ? 'minor' : scale}`).notes,
        )
      }
    }
  })
  it('scales of two octaves have taught fingers in 23 of 24 keys and hands at least', () => {
    const drill = makeDrill(
      recipe({
        material: { kind: 'scale', scale: 'major', octaves: 2 },
        hands: 'parallel',
        keys: { order: 'chromatic' },
      }),
    )
    const good = (['right', 'left'] as const).flatMap(hand =>
      drill.parts.map(part => {
        const up = of(drill, hand)
          .filter(note => compare(note.onset, part.from) >= 0 && compare(note.onset, part.to) < 0)
          .slice(0, 15)
          .map(note => note.finger as 1 | 2 | 3 | 4 | 5)
        return isTaughtScale(
          up,
          KEY_NAMES.findIndex((_, tonic) => tonic === Note.chroma(part.tonic)),
          'major',
          hand,
        )
      }),
    )
    expect(good.filter(one => one).length).toBeGreaterThanOrEqual(23)
  })
  it('hands in contrary motion mirror each other from the middle, and from the outside in and back', () => {
    for (const hands of ['contrary', 'inward'] as const) {
      const drill = makeDrill(recipe({ hands }))
      const [right, left] = [of(drill, 'right'), of(drill, 'left')]
      const steps = (notes: Written[]) =>
        notes.slice(1).map((note, index) => Math.sign(note.pitch - notes[index]!.pitch))
      expect(steps(right).map(step => -step)).toEqual(steps(left))
      expect(steps(right)[0]).toBe(hands === 'contrary' ? 1 : -1)
      expect(right.every((note, index) => note.pitch > left[index]!.pitch)).toBe(true)
    }
  })
  it('staggered hands play the same, the left one a beat later', () => {
    const drill = makeDrill(recipe({ material: { kind: 'five-finger', mode: 'major' }, hands: 'staggered' }))
    expect(
      names(drill, 'left')
        .split(' ')
        .map(name => Note.transpose(name, '8P'))
        .join(' '),
    ).toBe(names(drill))
    expect(toDecimal(of(drill, 'left')[0]!.onset)).toBe(1)
  })
  it('inversions go through all positions of a chord', () => {
    expect(
      names(makeDrill(recipe({ material: { kind: 'inversions', chord: '' } })))
        .split(' ')
        .slice(0, 9)
        .join(' '),
    ).toBe('C4 E4 G4 E4 G4 C5 G4 C5 E5')
    expect(fingers(makeDrill(recipe({ material: { kind: 'inversions', chord: '' } })), 'right').slice(0, 9)).toBe(
      '135125135',
    )
  })
  it('thirds and broken thirds', () => {
    expect(
      names(makeDrill(recipe({ material: { kind: 'scale', scale: 'major', octaves: 1, in: 'thirds' } })))
        .split(' ')
        .slice(0, 6)
        .join(' '),
    ).toBe('C4 E4 D4 F4 E4 G4')
    expect(
      names(makeDrill(recipe({ material: { kind: 'scale', scale: 'major', octaves: 1, in: 'broken-thirds' } })))
        .split(' ')
        .slice(0, 6)
        .join(' '),
    ).toBe('C4 E4 D4 F4 E4 G4')
  })
})

describe('chords', () => {
  it('sevenths fall by fifths vi7 ii7 V7 Imaj7, in C Am7 Dm7 G7 Cmaj7, in all twelve keys', () => {
    const degrees = ['vi7', 'ii7', 'V7', 'Imaj7']
    const drill = makeDrill(recipe({ material: { kind: 'progression', degrees }, keys: { order: 'fifths' } }))
    expect(drill.arrangement.chords.slice(0, 4).map(chord => chord.symbol)).toEqual(['Am7', 'Dm7', 'G7', 'Cmaj7'])
    for (const [index, part] of drill.parts.entries()) {
      const own = drill.arrangement.chords.slice(4 * index, 4 * index + 4)
      expect(own.map(chord => chord.symbol)).toEqual(
        Progression.fromRomanNumerals(part.tonic, ['VIm7', 'IIm7', 'V7', 'Imaj7']),
      )
      for (const chord of own) expect(chord.notes).toEqual(Chord.get(chord.symbol).notes)
    }
  })
  it('degrees are the chords that tonal has for them, in every key', () => {
    for (const tonic of ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']) {
      for (const [numeral, upper] of [
        ['I', 'I'],
        ['ii', 'IIm'],
        ['iii7', 'IIIm7'],
        ['IV', 'IV'],
        ['V7', 'V7'],
        ['vi', 'VIm'],
        ['bVII', 'bVII'],
        ['viiø7', 'VIIm7b5'],
      ] as const)
        expect(chordOfNumeral(numeral, tonic)).toBe(Progression.fromRomanNumerals(tonic, [upper])[0])
      expect(chordOfNumeral('vii°', tonic)).toBe(`${Progression.fromRomanNumerals(tonic, ['VII'])[0]}dim`)
    }
    expect(() => chordOfNumeral('Q7', 'C')).toThrow(RangeError)
  })
  it('each hand has a pattern of its own, and the other way round', () => {
    const [one, other] = [
      ['arpeggio-one', 'block-held'],
      ['block-held', 'arpeggio-one'],
    ].map(([left, right]) =>
      makeDrill(recipe({ material: { kind: 'progression', degrees: ['I', 'IV'] }, patterns: { left, right } })),
    )
    expect([of(one!, 'left').length, of(one!, 'right').length]).toEqual([16, 6])
    expect([of(other!, 'left').length, of(other!, 'right').length]).toEqual([6, 16])
  })
  it('two against three and three against four meet where they should', () => {
    for (const [right, left, beats, times] of [
      [3, 2, 1, 16],
      [4, 3, 2, 8],
    ] as const) {
      const drill = makeDrill(recipe({ material: { kind: 'against', right, left, beats } }))
      const onsets = (hand: Hand) => of(drill, hand).map(note => toDecimal(note.onset))
      expect(onsets('right')).toHaveLength(right * times)
      expect(onsets('right').filter(at => onsets('left').some(other => Math.abs(other - at) < 1e-9))).toHaveLength(
        times,
      )
    }
  })
  it('a chart goes through the keys, in its own meter', () => {
    const drill = drillOf(
      recipe({
        material: { kind: 'chart', text: 'key: G\nmeter: 3/4\n| G | D7/F# |' },
        keys: { order: 'list', list: ['G', 'Ab'] },
        patterns: { left: 'waltz' },
      }),
    )
    expect(drill.arrangement.chords.map(chord => chord.symbol)).toEqual(['G', 'D7/F#', 'Ab', 'Eb7/G'])
    expect(drill.arrangement.bars.map(bar => bar.meter.beats)).toEqual([3, 3, 3, 3])
  })
})

describe('rhythms', () => {
  const onsets = (rhythm: DrillRecipe['rhythm']) =>
    of(makeDrill(recipe({ rhythm, division: 4 })), 'right').map(note => toDecimal(note.onset))
  it('dotted, three to one and one to three', () => {
    expect(onsets('long-short').slice(0, 4)).toEqual([0, 3 / 8, 1 / 2, 7 / 8])
    expect(onsets('short-long').slice(0, 4)).toEqual([0, 1 / 8, 1 / 2, 5 / 8])
  })
  it('in groups of two, three and four, with time to get ready behind each', () => {
    expect(onsets('groups-2').slice(0, 4)).toEqual([0, 1 / 4, 1, 5 / 4])
    expect(onsets('groups-3').slice(0, 6)).toEqual([0, 1 / 4, 1 / 2, 2, 9 / 4, 5 / 2])
    expect(onsets('groups-4').slice(0, 6)).toEqual([0, 1 / 4, 1 / 2, 3 / 4, 2, 9 / 4])
  })
  it('with the accent moved to every third note', () => {
    const accented = of(makeDrill(recipe({ rhythm: 'accents-3' })), 'right').map(
      note => note.articulations?.includes('accent') ?? false,
    )
    expect(accented.slice(0, 7)).toEqual([true, false, false, true, false, false, true])
  })
  it('as blocks: what lies in a beat is struck together', () => {
    const drill = makeDrill(
      recipe({ material: { kind: 'arpeggio', chord: '', octaves: 1 }, division: 3, rhythm: 'blocks' }),
    )
    expect(
      of(drill, 'right')
        .filter(note => toDecimal(note.onset) === 0)
        .map(note => note.spelled),
    ).toEqual(['C4', 'E4', 'G4'])
  })
  it('in double time each key comes once more, in half the time', () => {
    const drill = makeDrill(recipe({ doubleTime: true }))
    expect(drill.parts.map(part => part.isDouble ?? false)).toEqual([false, true])
    const [slow, fast] = drill.parts.map(part =>
      of(drill, 'right').filter(note => compare(note.onset, part.from) >= 0 && compare(note.onset, part.to) < 0),
    )
    expect(fast!.map(note => note.spelled)).toEqual(slow!.map(note => note.spelled))
    expect(toDecimal(fast![1]!.onset) - toDecimal(fast![0]!.onset)).toBe(
      (toDecimal(slow![1]!.onset) - toDecimal(slow![0]!.onset)) / 2,
    )
  })
})

describe('a passage of a song', () => {
  const passage = {
    kind: 'passage',
    fifths: 1,
    length: quarters(4),
    left: [{ onset: quarters(0), duration: quarters(4), pitch: 43, spelled: 'G2' }],
    right: ['G4', 'A4', 'B4', 'C5', 'D5', 'C#5', 'B4', 'A4'].map((spelled, index) => ({
      onset: quarters(index, 2),
      duration: quarters(1, 2),
      pitch: Note.midi(spelled)!,
      spelled,
    })),
  } as const
  it('goes through the keys, spelled by the interval between them', () => {
    const drill = makeDrill(recipe({ material: passage, keys: { order: 'list', list: ['G', 'Ab', 'E'] } }))
    expect(names(drill).split(' ').slice(8, 16).join(' ')).toBe('Ab4 Bb4 C5 Db5 Eb5 D5 C5 Bb4')
    expect(names(drill).split(' ').slice(16).join(' ')).toBe('E4 F#4 G#4 A4 B4 A#4 G#4 F#4')
  })
  it("is one hand's in rhythms, with its own usual value", () => {
    const drill = makeDrill(recipe({ material: passage, hands: 'right', rhythm: 'long-short' }))
    expect(of(drill, 'left')).toEqual([])
    expect(
      of(drill, 'right')
        .slice(0, 3)
        .map(note => toDecimal(note.onset)),
    ).toEqual([0, 3 / 4, 1])
  })
})

describe('keys', () => {
  it('by fifths, by half steps and by chance: all twelve, none twice, the same for the same seed', () => {
    expect(drillKeys({ order: 'fifths' }, false).map(key => key.tonic)).toEqual([
      'C',
      'G',
      'D',
      'A',
      'E',
      'B',
      'F#',
      'Db',
      'Ab',
      'Eb',
      'Bb',
      'F',
    ])
    expect(drillKeys({ order: 'chromatic', from: 'A' }, true).map(key => key.tonic)).toEqual([
      'A',
      'Bb',
      'B',
      'C',
      'C#',
      'D',
      'D#',
      'E',
      'F',
      'F#',
      'G',
      'G#',
    ])
    const [one, same, other] = [3, 3, 4].map(seed => drillKeys({ order: 'random', seed }, false).map(key => key.tonic))
    expect(new Set(one).size).toBe(12)
    expect(one).toEqual(same)
    expect(one).not.toEqual(other)
  })
  it('knows the major and the minor key of every signature, as tonal does', () => {
    for (let fifths = -7; fifths <= 7; fifths++) {
      const { major, minor } = keysWithSignature(fifths)
      expect(Key.majorKey(major).alteration).toBe(fifths)
      expect(Key.majorKey(major).minorRelative).toBe(minor)
    }
  })
  it('refuses names that are none, and keys of more than seven signs', () => {
    expect(() => drillKeys({ order: 'one', from: 'H' }, false)).toThrow(NoDrill)
    expect(() => drillKeys({ order: 'list', list: ['G#'] }, false)).toThrow('8 signs')
  })
})

describe('recipes', () => {
  it.each(READY_DRILLS.map(({ name, recipe: ready }) => [name, ready] as const))(
    '%s is ready: whole bars, a part for each key, MusicXML that is read back as it is',
    (name, ready) => {
      const drill = drillOf({ title: name, ...ready })
      expect(drill.parts.at(-1)!.to).toEqual(
        add(drill.arrangement.bars.at(-1)!.start, drill.arrangement.bars.at(-1)!.length),
      )
      for (const part of drill.parts)
        expect(
          drill.arrangement.bars.some(bar => compare(bar.start, part.from) === 0 && bar.fifths === part.fifths),
        ).toBe(true)
      const again = readMusicXml(new TextEncoder().encode(drill.musicXml)).arrangement
      const shape = (notes: readonly Written[]) =>
        notes.map(note => [note.hand, toDecimal(note.onset), note.spelled, note.finger ?? 0].join(' '))
      expect(shape(again.notes)).toEqual(shape(drill.arrangement.notes))
    },
  )
  it('come back from JSON as they went', () => {
    for (const { name, recipe: ready } of READY_DRILLS)
      expect(recipeFrom(JSON.parse(JSON.stringify(recipeDocument({ title: name, ...ready }))))).toEqual({
        title: name,
        ...ready,
      })
  })
  it.each([
    [{}, 'material is required'],
    [{ material: { kind: 'song' } }, 'material.kind must be one of'],
    [{ material: { kind: 'scale', scale: 'major', octaves: 9 } }, 'material.octaves must be less than or equal to 4'],
    [{ material: { kind: 'sevenths' }, keys: { order: 'list', list: ['H'] } }, 'keys.list[0]'],
    [{ material: { kind: 'sevenths' }, meter: { beats: 4, beatType: 3 } }, 'meter.beatType'],
  ])('%j is refused with the place', (value, message) => expect(() => recipeFrom(value)).toThrow(message))
  it('whatever is asked for is made or refused, on the keyboard, in order and within the reach', () => {
    const material = fc.oneof(
      fc.record({
        kind: fc.constant('scale' as const),
        scale: fc.constantFrom(...SCALE_NAMES),
        octaves: fc.constantFrom(1, 2, 3, 4),
        in: fc.constantFrom(...SCALE_STEPS),
      }),
      fc.record({
        kind: fc.constant('arpeggio' as const),
        chord: fc.constantFrom('', 'm', '7', 'maj7', 'dim7', 'nonsense'),
        octaves: fc.constantFrom(1, 2, 4),
      }),
      fc.record({
        kind: fc.constant('inversions' as const),
        chord: fc.constantFrom('', 'm7', 'aug'),
        isBroken: fc.boolean(),
      }),
      fc.record({ kind: fc.constant('sevenths' as const), isBroken: fc.boolean() }),
      fc.record({
        kind: fc.constant('against' as const),
        right: fc.integer({ min: 1, max: 7 }),
        left: fc.integer({ min: 1, max: 7 }),
        beats: fc.constantFrom(1, 2),
      }),
      fc.record({
        kind: fc.constant('progression' as const),
        degrees: fc.array(fc.constantFrom('I', 'ii7', 'IVmaj7', 'V7', 'bVII', 'viiø7', 'Q'), {
          minLength: 1,
          maxLength: 4,
        }),
      }),
    )
    const any = fc.record({
      title: fc.constant('Anything'),
      material,
      hands: fc.constantFrom(undefined, ...LINE_HANDS),
      keys: fc.record({ order: fc.constantFrom(...KEY_ORDERS), seed: fc.nat(99), list: fc.constant(['Eb', 'B']) }),
      meter: fc.constantFrom(FOUR, { beats: 3, beatType: 4 }, { beats: 6, beatType: 8 }),
      division: fc.constantFrom(undefined, 1, 2, 3, 4),
      rhythm: fc.constantFrom(undefined, ...RHYTHMS),
      bpm: fc.constant(80),
      doubleTime: fc.boolean(),
    })
    let made = 0
    fc.assert(
      fc.property(any, wanted => {
        let drill
        try {
          drill = makeDrill(wanted as DrillRecipe, { reach: 13 })
        } catch (error) {
          expect(error).toBeInstanceOf(NoDrill)
          return
        }
        made++
        for (const hand of ['right', 'left'] as const) {
          const notes = of(drill, hand)
          expect(notes.filter(({ pitch }) => pitch < 21 || pitch > 108)).toEqual([])
          expect(notes.filter(({ spelled, pitch }) => Note.midi(spelled) !== pitch)).toEqual([])
          const spans = [...group(notes, note => toDecimal(note.onset)).values()].map(together => {
            const pitches = together.map(note => note.pitch)
            return Math.max(...pitches) - Math.min(...pitches)
          })
          expect(Math.max(0, ...spans)).toBeLessThanOrEqual(13)
        }
      }),
      { numRuns: 120, seed: 19 },
    )
    expect(made).toBeGreaterThan(60)
  })
})
