import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { returnsOf } from './returns'

const song = (...bars: string[]) =>
  readMusicXml(bytesOf(pianoScore(bars.map((bar, index) => (index === 0 ? attributes() : '') + quarterNotes(bar)))))
    .arrangement
const THEME = ['C4 D4 E4 F4', 'G4 A4 B4 C5', 'D5 C5 B4 A4', 'G4 F4 E4 D4']
const BETWEEN = ['E4 C4 G4 E4', 'B3 D4 G4 B4', 'A4 E4 C4 A3']
/** Form as diagonals of the bars' self-similarity (Foote 2000; Müller 2015, ch. 4; unchecked). */
describe('what returns', () => {
  it('is found at any bar, exactly', () => {
    expect(returnsOf(song(...THEME, ...BETWEEN, ...THEME))[0]).toEqual({
      from: 7,
      earlier: 0,
      bars: 4,
      transposedBy: 0,
      share: 1,
      kinds: 4,
    })
  })
  it('is found nearly, over a bar that differs', () => {
    const varied = [THEME[0]!, 'G4 A4 B4 D5', 'E5 F5 G5 E5', THEME[3]!]
    expect(returnsOf(song(...THEME, ...BETWEEN, ...varied))).toMatchObject([])
    expect(
      returnsOf(song(...THEME, ...THEME.slice(0, 2), ...BETWEEN, ...THEME, ...varied.slice(0, 2)))[0],
    ).toMatchObject({ from: 9, earlier: 0, bars: 6, transposedBy: 0 })
  })
  it('is found moved by an interval', () => {
    const upAFourth = ['F4 G4 A4 Bb4', 'C5 D5 E5 F5', 'G5 F5 E5 D5', 'C5 Bb4 A4 G4']
    expect(returnsOf(song(...THEME, ...BETWEEN, ...upAFourth))[0]).toMatchObject({
      from: 7,
      earlier: 0,
      bars: 4,
      transposedBy: 5,
    })
  })
  it('is asked of both hands together, or of one', () => {
    const both = (right: string, left: string, first = false) =>
      (first ? attributes({ staves: 2 }) : '') + quarterNotes(right, 1) + backup(4) + quarterNotes(left, 2)
    const bars = [...THEME, ...THEME].map((bar, index) =>
      both(
        bar,
        index < 4 ? 'C3 G3 C3 G3' : ['F3 A2 F3 A2', 'D3 B2 D3 B2', 'E3 C3 E3 B2', 'G2 D3 F3 B2'][index - 4]!,
        index === 0,
      ),
    )
    const { arrangement } = readMusicXml(bytesOf(pianoScore(bars)))
    expect(returnsOf(arrangement, ['right'])[0]).toMatchObject({ from: 4, earlier: 0, bars: 4, share: 1 })
    expect(returnsOf(arrangement).filter(one => one.share === 1)).toEqual([])
  })
  it('is nothing in a song that goes on, and bars of rest alone are no return', () => {
    expect(returnsOf(song(...THEME, ...BETWEEN))).toEqual([])
    expect(
      returnsOf(
        readMusicXml(
          bytesOf(
            pianoScore([
              attributes() + quarterNotes('C4 D4 E4 F4'),
              ...Array.from({ length: 4 }, () => note({ length: 4 })),
            ]),
          ),
        ).arrangement,
      ),
    ).toEqual([])
  })
})
