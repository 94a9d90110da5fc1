import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { arrangementEnd } from '../music/arrangement'
import { quarters } from '../music/quarters'
import { chordsOfPart, inversionText } from './part-chords'

const chord = (pitches: string, length: number, staff: number) =>
  pitches
    .split(' ')
    .map((pitch, index) => note({ pitch, length, staff, chord: index > 0 }))
    .join('')
const symbol = (root: string, kind: string, bass?: string) =>
  `<harmony><root><root-step>${root}</root-step></root><kind>${kind}</kind>${bass ? `<bass><bass-step>${bass}</bass-step></bass>` : ''}</harmony>`
const song = (bars: string[]) =>
  readMusicXml(bytesOf(pianoScore(bars.map((bar, index) => (index === 0 ? attributes({ staves: 2 }) : '') + bar))))
    .arrangement
const chords = (bars: string[], fingers?: Map<string, number>) => {
  const arrangement = song(bars)
  return chordsOfPart(arrangement, { from: quarters(0), to: arrangementEnd(arrangement) }, fingers)
}

describe('the chords of a part', () => {
  it('are heard in the notes where no symbol stands, with inversion and place in the key', () => {
    const found = chords([
      chord('E4 G4', 2, 1) + chord('F4 A4', 2, 1) + backup(4) + chord('C3', 2, 2) + chord('C3', 2, 2),
      chord('F4 G4 D5', 2, 1) + chord('E4 G4 C5', 2, 1) + backup(4) + chord('B2', 2, 2) + chord('C3', 2, 2),
    ])
    expect(found.map(one => [one.symbol, inversionText(one.inversion), one.roman, one.from])).toEqual([
      ['C', 'root position', 'I', 'notes'],
      ['F/C', 'second inversion', 'IV', 'notes'],
      ['G7/B', 'first inversion', 'V7', 'notes'],
      ['C', 'root position', 'I', 'notes'],
    ])
    expect(found.map(one => one.notes.join(' '))).toEqual(['C E G', 'C F A', 'B F G D', 'C E G C'])
  })

  it('say how each hand gets from one to the next', () => {
    const found = chords([
      chord('A4', 2, 1) + chord('A4', 2, 1) + backup(4) + chord('A2 C3 E3', 2, 2) + chord('A2 D3 F3', 2, 2),
    ])
    expect(found[0]!.leftMove).toBe('')
    expect(found[1]!.leftMove).toBe('A stays; C to D and E to F go up together')
    expect(found[1]!.rightMove).toBe('A stays')
  })

  it('name fingers where they are known', () => {
    const arrangement = song([chord('A4', 4, 1) + backup(4) + chord('A2 C3 E3', 2, 2) + chord('A2 D3 F3', 2, 2)])
    const left = arrangement.notes.filter(one => one.hand === 'left')
    const fingers = new Map(left.map((one, index) => [one.id, [5, 2, 1, 5, 2, 1][index]!]))
    expect(chordsOfPart(arrangement, { from: quarters(0), to: quarters(4) }, fingers)[1]!.leftMove).toBe(
      '5 stays on A; 2 and 1 go up together',
    )
  })

  it('follow the symbols where there are some, and say what is not played', () => {
    const found = chords([
      symbol('G', 'dominant') + chord('F4', 2, 1) + chord('B4', 2, 1) + backup(4) + chord('G2', 4, 2),
      symbol('C', 'major', 'E') + chord('C5 G5', 4, 1) + backup(4) + chord('E3', 4, 2),
    ])
    expect(found.map(one => [one.symbol, one.from, one.missing.join()])).toEqual([
      ['G7', 'symbol', 'D'],
      ['C/E', 'symbol', ''],
    ])
  })

  it('are spelled as the player calls notes', () => {
    const arrangement = song([chord('D5 F#5 B5', 4, 1) + backup(4) + chord('B2', 4, 2)])
    expect(
      chordsOfPart(arrangement, { from: quarters(0), to: quarters(4) }, undefined, 'german')[0]!.notes.join(' '),
    ).toBe('H D Fis H')
    expect(
      chordsOfPart(arrangement, { from: quarters(0), to: quarters(4) }, undefined, 'solfege')[0]!.notes.join(' '),
    ).toBe('Si Re Fa♯ Si')
  })
})
