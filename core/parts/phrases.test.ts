/**
 * Where parts begin, on songs made of phrases whose ends are known. That phrases end in longer notes and rests, and at
 * cadences, is common practice (and Cambouropoulos 2001; Temperley 2001, The Cognition of Basic Musical Structures, ch.
 * 3, unchecked).
 */
import { describe, expect, it } from 'vitest'
import { madeSong } from '../../tests/material/phrases'
import { attributes, bytesOf, note, partsScore, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { arrangementEnd, positionOf, type Arrangement } from '../music/arrangement'
import { add, quarters, toDecimal } from '../music/quarters'
import { bestSegmentation } from './cheapest-cuts'
import { phraseEnds } from './phrase-ends'
import { propose, proposeParts } from './propose'

const beginnings = (arrangement: Arrangement, wish?: number) =>
  proposeParts(arrangement, wish).map(part => toDecimal(part.from))
const places = (arrangement: Arrangement) =>
  proposeParts(arrangement).map(part => {
    const { bar, beat } = positionOf(arrangement, part.from)
    return `${bar}:${beat}`
  })
/** The share of phrase ends that parts begin at, over 30 songs. */
function found(lengths: readonly number[]): number {
  const songs = Array.from({ length: 30 }, (_, seed) =>
    madeSong(1000 * lengths[0]! + 10 * lengths.length + seed, lengths),
  )
  const all = songs.flatMap(({ arrangement, ends }) => {
    const edges = beginnings(arrangement)
    return ends.map(end => edges.some(edge => Math.abs(edge - end) < 1e-6))
  })
  return all.filter(Boolean).length / all.length
}
const read = (bars: (string | [string, string])[]) => readMusicXml(bytesOf(pianoScore(bars))).arrangement
/** Bars of quarters that say nothing of phrases, each its own. */
const plain = (count: number, extra: Record<number, string> = {}) =>
  read(
    Array.from(
      { length: count },
      (_, bar) =>
        (bar === 0 ? attributes() : '') +
        (extra[bar + 1] ?? '') +
        quarterNotes(
          ['C4 E4 D4 F4', 'E4 G4 F4 A4', 'D4 F4 E4 G4', 'F4 D4 E4 C4', 'G4 E4 F4 D4'][(bar * 3 + (bar >> 2)) % 5]!,
        ),
    ),
  )

describe('phrases of known length are found', () => {
  it.each([[[3, 3, 3, 3]], [[4, 4, 4, 4]], [[5, 5, 5, 5]], [[8, 8, 8]], [[4, 3, 4, 5]], [[5, 4, 4, 3]]])(
    '%j bars',
    lengths => expect(found(lengths)).toBeGreaterThanOrEqual(0.8),
  )
})

describe('what belongs together', () => {
  it('a pickup belongs to what follows it, each time', () => {
    const line = (pickup: string) => `${note({ pitch: 'G4', length: 2 })}${note({ length: 1 })}${quarterNotes(pickup)}`
    const song = read([
      ['number="0" implicit="yes"', attributes() + quarterNotes('D4')],
      quarterNotes('G4 A4 B4 G4'),
      quarterNotes('A4 B4 C5 A4'),
      quarterNotes('B4 C5 D5 B4'),
      line('D4'),
      quarterNotes('G4 F4 E4 G4'),
      quarterNotes('A4 G4 F4 E4'),
      quarterNotes('B4 A4 G4 F4'),
      line('E4'),
    ])
    expect(places(song)).toEqual(['0:4', '5:4'])
  })

  it('endings belong to their section, also where the second is not marked', () => {
    const first = (marked: boolean) => {
      const bars = ['C4 E4 D4 F4', 'E4 G4 F4 A4', 'D4 F4 E4 G4'].map(quarters => quarterNotes(quarters))
      bars[0] = `${attributes()}<barline location="left"><repeat direction="forward"/></barline>${bars[0]!}`
      bars.push(
        `<barline location="left"><ending number="1" type="start"/></barline>${quarterNotes('F4 E4 D4 D4')}<barline location="right"><ending number="1" type="stop"/><repeat direction="backward"/></barline>`,
      )
      bars.push(
        `${marked ? '<barline location="left"><ending number="2" type="start"/></barline>' : ''}${quarterNotes('F4 E4 D4 C4')}<barline location="right"><bar-style>light-light</bar-style>${marked ? '<ending number="2" type="discontinue"/>' : ''}</barline>`,
      )
      return read([
        ...bars,
        ...['A4 G4 F4 E4', 'G4 F4 E4 D4', 'F4 E4 D4 C4', 'E4 D4 C4 C4'].map(quarters => quarterNotes(quarters)),
      ])
    }
    for (const marked of [true, false]) expect(places(first(marked))).toEqual(['1:1', '6:1'])
  })

  it('no part is a bar alone: a pickup before a repeat sign, a bar left over', () => {
    const repeated = read([
      ['number="0" implicit="yes"', attributes() + quarterNotes('G4')],
      `<barline location="left"><repeat direction="forward"/></barline>${quarterNotes('C4 E4 D4 F4')}`,
      ...Array.from({ length: 8 }, () => quarterNotes('E4 G4 F4 A4')),
    ])
    for (const song of [repeated, plain(9), plain(5), plain(3)]) {
      for (const { from, to } of proposeParts(song)) expect(toDecimal(to) - toDecimal(from)).toBeGreaterThanOrEqual(8)
    }
  })

  it('what returns is cut as it was the first time', () => {
    const theme = [
      'C4 E4 D4 F4',
      'E4 G4 F4 A4',
      'D4 F4 E4 G4',
      'F4 A4 G4 B4',
      'G4 E4 F4 D4',
      'E4 C4 D4 B3',
      'C4 D4 E4 F4',
      'G4 F4 E4 D4',
    ]
    const song = read(
      [
        ...theme,
        'A4 C5 B4 D5',
        'B4 D5 C5 E5',
        'C5 A4 B4 G4',
        'A4 F4 G4 E4',
        'F4 A4 G4 B4',
        ...theme,
        'C4 G4 E4 C4',
        'C4 C4 C4 C4',
      ].map((bar, index) => (index === 0 ? attributes() : '') + quarterNotes(bar)),
    )
    const { parts, sections } = propose(song)
    const inside = (from: number) => parts.map(part => toDecimal(part.from) - from).filter(at => at > 0 && at < 32)
    expect(inside(52)).toEqual(inside(0))
    expect(sections.map(section => [section.name, section.like])).toEqual([
      ['A1', undefined],
      ['B', undefined],
      ['A2', 'A1'],
    ])
  })
})

describe('what the score says of its phrases', () => {
  const DOUBLE = '<barline location="right"><bar-style>light-light</bar-style></barline>'
  it.each([
    ['a change of key', '<attributes><key><fifths>2</fifths></key></attributes>'],
    ['a segno', '<direction><direction-type><segno/></direction-type></direction>'],
    ['a mark', '<direction><direction-type><rehearsal>B</rehearsal></direction-type></direction>'],
  ])('%s begins a part', (_, sign) => expect(beginnings(plain(12, { 6: sign }))).toContain(20))
  it('a double bar ends one', () => {
    const bars = Array.from(
      { length: 12 },
      (_, bar) => (bar === 0 ? attributes() : '') + quarterNotes('C4 E4 D4 F4') + (bar === 6 ? DOUBLE : ''),
    )
    expect(beginnings(read(bars))).toContain(28)
  })
  it('a bar number printed as a mark is no section', () => {
    expect(
      propose(
        plain(12, { 6: '<direction><direction-type><rehearsal>6</rehearsal></direction-type></direction>' }),
      ).sections.map(section => section.name),
    ).not.toContain('6')
  })
  it('a fermata, a breath mark and the end of a sentence say that a phrase ends', () => {
    const evidence = (extra: string, after = '') => {
      const song = read([
        attributes() + quarterNotes('C4 E4 D4') + note({ pitch: 'F4', length: 1, extra }),
        note({ pitch: 'G4', length: 1, extra: after }) + quarterNotes('F4 E4 D4'),
      ])
      return phraseEnds(song).find(end => toDecimal(end.at) === 4)!.evidence
    }
    const none = evidence('')
    const word = (text: string) => `<lyric number="1"><syllabic>single</syllabic><text>${text}</text></lyric>`
    expect(evidence('<notations><fermata/></notations>')).toBeGreaterThan(none)
    expect(evidence('<notations><articulations><breath-mark/></articulations></notations>')).toBeGreaterThan(none)
    expect(evidence(word('home.'), word('Then'))).toBeGreaterThan(evidence(word('home'), word('then')))
  })
  it('a sung line is heard where the hands go on', () => {
    const sung = (bars: string[]) =>
      bars
        .map((bar, index) => `<measure number="${index + 1}">${index === 0 ? attributes() : ''}${bar}</measure>`)
        .join('')
    const word = (pitch: string, length: number, text: string) =>
      note({ pitch, length, extra: `<lyric number="1"><syllabic>single</syllabic><text>${text}</text></lyric>` })
    const voice = sung(
      ['G4 A4 B4', 'A4 G4 F4', 'E4 F4 G4']
        .map(
          (bar, at) =>
            bar
              .split(' ')
              .map(pitch => word(pitch, 1, `la${at}`))
              .join('') + word('C5', 1, 'la'),
        )
        .flatMap((bar, at) =>
          at === 2
            ? [
                bar,
                note({ pitch: 'C5', length: 4 }),
                quarterNotes('E5 D5 C5 B4'),
                quarterNotes('A4 B4 C5 D5'),
                quarterNotes('G4 G4 A4 B4'),
              ]
            : [bar],
        ),
    )
    const hands = sung(Array.from({ length: 7 }, () => quarterNotes('C3 G3 C4 G3')))
    const { arrangement } = readMusicXml(
      bytesOf(
        partsScore([
          ['Voice', voice],
          ['Piano', hands],
        ]),
      ),
      { 1: 'role', 2: 'left' },
    )
    expect(beginnings(arrangement)).toContain(16)
  })
})

describe('parts do not change with what they should not', () => {
  const songs = Array.from({ length: 6 }, (_, seed) => madeSong(400 + seed, [4, 3, 4, 5, 4]).arrangement)
  const edges = (song: Arrangement) =>
    propose(song).parts.map(part => [part.name, part.section, toDecimal(part.from), toDecimal(part.to)])
  const moved = (song: Arrangement, by: number): Arrangement => ({
    ...song,
    notes: song.notes.map(one => ({ ...one, pitch: one.pitch + by })),
  })
  it('another key or octave', () => {
    for (const song of songs) for (const by of [-12, -5, 1, 7]) expect(edges(moved(song, by))).toEqual(edges(song))
  })
  it('an empty bar before', () => {
    for (const song of songs) {
      const length = quarters(4 * song.bars.at(-1)!.meter.beats, 4)
      const later = {
        ...song,
        bars: [
          { ...song.bars[0]!, length, offset: quarters(0), start: quarters(0) },
          ...song.bars.map(bar => ({ ...bar, start: add(bar.start, length) })),
        ].map((bar, index) => ({ ...bar, index })),
        notes: song.notes.map(one => ({ ...one, barIndex: one.barIndex + 1, onset: add(one.onset, length) })),
      }
      const shift = toDecimal(length)
      expect(
        edges(later).map(([name, section, from, to]) => [
          name,
          section,
          Math.max(0, (from as number) - shift),
          (to as number) - shift,
        ]),
      ).toEqual(edges(song))
    }
  })
  it('and they cover the song once', () => {
    for (const song of songs) {
      const parts = proposeParts(song)
      expect([parts[0]!.from, parts.at(-1)!.to]).toEqual([quarters(0), arrangementEnd(song)])
      parts.slice(1).forEach((part, index) => expect(part.from).toEqual(parts[index]!.to))
    }
  })
})

describe('the cheapest cuts', () => {
  const at = (bars: number, value: number) => ({ bars, value })
  const size = { wish: 4, least: 2, most: 5 }
  it('weigh the whole song at once: a clear edge later is not lost to a near one now', () => {
    const lines = Array.from({ length: 11 }, (_, index) =>
      at(index + 1, index + 1 === 3 ? 4 : index + 1 === 6 ? 6 : index + 1 === 9 ? 4 : 0),
    )
    expect(bestSegmentation(lines, 12, size).map(index => index + 1)).toEqual([3, 6, 9])
  })
  it('keep within the sizes, and where none fits make the longer part', () => {
    expect(bestSegmentation([at(1, 9), at(2, 0), at(3, 9)], 4, size)).toEqual([])
    expect(bestSegmentation([at(9, 0)], 18, size)).toEqual([0])
    expect(bestSegmentation([], 30, size)).toEqual([])
  })
})
