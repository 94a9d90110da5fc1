/** How notes are written down: note values, ties, tuplets, beams, accidentals, clefs (common practice of engraving). */
import { describe, expect, it } from 'vitest'
import type { Arrangement, Hand } from '../../music/arrangement'
import type { Meter } from '../../music/meter'
import { quarters, type Quarters } from '../../music/quarters'
import { arrange } from '../../music/arrange'
import { writeMusicXml } from './write'
import { child, children, parseXml, textOf, type XmlElement } from './xml'

/** `60@0+1 60@1+1/3`: pitch, onset and length in quarter notes; the left hand with a leading l. */
function song(
  text: string,
  { meter = { beats: 4, beatType: 4 } as Meter, fifths = 0, pickup = quarters(0) } = {},
): Arrangement {
  const fraction = (one: string): Quarters => {
    const [n, d = '1'] = one.split('/')
    return quarters(Number(n), Number(d))
  }
  return arrange(
    { title: 'Written', meters: [{ at: quarters(0), meter }], fifths, pickup, tempos: [] },
    text.split(' ').map(one => {
      const [, left, pitch, onset, length] = /^(l?)(\d+)@([\d/]+)\+([\d/]+)$/.exec(one)!
      const at = fraction(onset!)
      const long = fraction(length!)
      return {
        hand: (left ? 'left' : 'right') as Hand,
        pitch: Number(pitch),
        onset: at,
        end: quarters(at.n * long.d + long.n * at.d, at.d * long.d),
      }
    }),
  )
}

const measuresOf = (arrangement: Arrangement): XmlElement[] =>
  children(child(parseXml(writeMusicXml(arrangement).musicXml), 'part'), 'measure')
const notesOf = (arrangement: Arrangement, staff = 1): XmlElement[] =>
  measuresOf(arrangement)
    .flatMap(measure => children(measure, 'note'))
    .filter(note => textOf(note, 'staff') === String(staff))

/** A note or rest as it is drawn: `quarter.`, `eighth r`, ties as `-`. */
const drawn = (note: XmlElement) =>
  `${children(note, 'tie').some(tie => tie.attributes.type === 'stop') ? '-' : ''}${textOf(note, 'type') || 'bar'}${'.'.repeat(children(note, 'dot').length)}${child(note, 'rest') ? ' r' : ''}${children(note, 'tie').some(tie => tie.attributes.type === 'start') ? '-' : ''}`
const values = (text: string, more = {}) =>
  notesOf(song(text, more))
    .filter(note => !child(note, 'chord'))
    .map(drawn)

describe('note values', () => {
  it.each([
    ['a whole bar', '60@0+4', ['whole']],
    ['three quarters from the beginning', '60@0+3 62@3+1', ['half.', 'quarter']],
    [
      'a quarter on an "and" crosses one beat',
      '60@0+1/2 62@1/2+1 64@3/2+5/2',
      ['eighth', 'quarter', 'eighth-', '-half'],
    ],
    ['five eighths are tied', '60@0+5/2 62@5/2+3/2', ['half-', '-eighth', 'eighth-', '-quarter']],
    ['a half on beat 2', '60@0+1 62@1+2 64@3+1', ['quarter', 'half', 'quarter']],
    ['dotted eighth and sixteenth', '60@0+3/4 62@3/4+1/4 64@1+3', ['eighth.', '16th', 'quarter-', '-half']],
    ['rests between', '60@1+1 62@3+1', ['quarter r', 'quarter', 'quarter r', 'quarter']],
    ['over the bar line', '60@3+2', ['half. r', 'quarter-', '-quarter', 'quarter r', 'half r']],
  ])('%s', (_name, text, expected) => {
    const found = values(text)
    expect(found.slice(0, expected.length)).toEqual(expected)
  })
  it('in 6/8 the two halves of the bar are seen', () => {
    expect(values('60@0+3/2 62@3/2+1/2 64@2+1', { meter: { beats: 6, beatType: 8 } })).toEqual([
      'quarter.',
      'eighth',
      'quarter',
    ])
    expect(values('60@1/2+2 62@5/2+1/2', { meter: { beats: 6, beatType: 8 } })).toEqual([
      'eighth r',
      'quarter-',
      '-half'.replace('half', 'quarter'),
      'eighth',
    ])
  })
  it('an empty bar of a hand has one rest, an incomplete one a rest of its length', () => {
    expect(notesOf(song('60@0+4'), 2).map(note => child(note, 'rest')!.attributes.measure)).toEqual(['yes'])
    expect(values('60@0+1 62@1+4', { pickup: quarters(1) })).toEqual(['quarter', 'whole'])
    expect(notesOf(song('60@0+1 62@1+4', { pickup: quarters(1) }), 2).map(drawn)).toEqual(['quarter r', 'bar r'])
  })
})

describe('tuplets', () => {
  const tuplets = (text: string) =>
    notesOf(song(text)).flatMap(note => {
      const change = child(note, 'time-modification')
      return change
        ? [
            `${textOf(note, 'type')} ${textOf(change, 'actual-notes')}:${textOf(change, 'normal-notes')} ${children(
              child(note, 'notations'),
              'tuplet',
            )
              .map(one => one.attributes.type)
              .join()}`,
          ]
        : []
    })
  it('three eighths in a beat, with a bracket from the first to the last', () => {
    expect(tuplets('60@0+1/3 62@1/3+1/3 64@2/3+1/3 65@1+3')).toEqual([
      'eighth 3:2 start',
      'eighth 3:2 ',
      'eighth 3:2 stop',
    ])
  })
  it('quarter and eighth as in a shuffle', () =>
    expect(tuplets('60@0+2/3 62@2/3+1/3 64@1+3')).toEqual(['quarter 3:2 start', 'eighth 3:2 stop']))
  it('three quarters in two beats', () =>
    expect(tuplets('60@0+2/3 62@2/3+2/3 64@4/3+2/3 65@2+2')).toEqual([
      'quarter 3:2 start',
      'quarter 3:2 ',
      'quarter 3:2 stop',
    ]))
  it('five sixteenths in a beat', () =>
    expect(
      tuplets([0, 1, 2, 3, 4].map(at => `${60 + at}@${at}/5+1/5`).join(' ') + ' 67@1+3').map(one => one.slice(0, 8)),
    ).toEqual(Array.from({ length: 5 }, () => '16th 5:4')))
  it('begins where its rest begins', () =>
    expect(tuplets('62@1/3+1/3 64@2/3+1/3 65@1+3')).toEqual(['eighth 3:2 start', 'eighth 3:2 ', 'eighth 3:2 stop']))
})

describe('beams', () => {
  const beams = (text: string, meter?: Meter) =>
    notesOf(song(text, { meter })).map(note =>
      children(note, 'beam')
        .map(beam => beam.text)
        .join('+'),
    )
  it('join eighths within the beat', () =>
    expect(beams('60@0+1/2 62@1/2+1/2 64@1+1/2 65@3/2+1/2 67@2+2').slice(0, 5)).toEqual([
      'begin',
      'end',
      'begin',
      'end',
      '',
    ]))
  it('have a second one for sixteenths, and a hook for one alone', () =>
    expect(beams('60@0+3/4 62@3/4+1/4 64@1+1/4 65@5/4+1/4 67@3/2+1/2 69@2+2').slice(0, 5)).toEqual([
      'begin',
      'end+backward hook',
      'begin+begin',
      'continue+end',
      'end',
    ]))
  it('join three eighths in 6/8', () =>
    expect(beams([0, 1, 2, 3, 4, 5].map(at => `${60 + at}@${at}/2+1/2`).join(' '), { beats: 6, beatType: 8 })).toEqual([
      'begin',
      'continue',
      'end',
      'begin',
      'continue',
      'end',
    ]))
})

describe('accidentals and clefs', () => {
  const accidentals = (text: string, fifths = 0) =>
    notesOf(song(text, { fifths }))
      .filter(note => child(note, 'pitch'))
      .map(note => textOf(note, 'accidental'))
  it('are shown once a bar, and taken back', () =>
    expect(accidentals('66@0+1 66@1+1 65@2+1 66@3+1')).toEqual(['sharp', '', 'natural', 'sharp']))
  it('are shown anew in the next bar, but not on a tied note', () => {
    expect(accidentals('66@0+4 66@4+4')).toEqual(['sharp', 'sharp'])
    expect(accidentals('66@3+2 67@5+3').filter(Boolean)).toEqual(['sharp'])
  })
  it('are not shown for what the key has, and are for what it has not', () =>
    expect(accidentals('66@0+2 65@2+2', 1)).toEqual(['', 'natural']))
  it('the left hand gets a treble clef where it lies high, and its own back', () => {
    const clefs = measuresOf(song('84@0+4 l43@0+4 84@4+4 l76@4+4 84@8+4 l45@8+4')).map(measure =>
      children(child(measure, 'attributes'), 'clef')
        .map(clef => `${clef.attributes.number}${textOf(clef, 'sign')}`)
        .join(),
    )
    expect(clefs).toEqual(['1G,2F', '2G', '2F'])
  })
})

describe('what cannot be written', () => {
  it('positions finer than any note value are refused, not moved', () =>
    expect(() => writeMusicXml(song('60@0+1 62@1/1000003+1'))).toThrow(RangeError))
})
