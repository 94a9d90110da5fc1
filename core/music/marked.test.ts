import { describe, expect, it } from 'vitest'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { describeStretch } from '../words/places'
import { barsMarked, barsNumbered, barsOfSpan, grown, moved, wholeBarSpan, withEdge } from './marked'
import { quarters } from './quarters'
import { tappedBeats } from './tapped'

const BAR = quarterNotes('C4 D4 E4 F4')
/** Six bars of four quarters. */
const { arrangement } = readMusicXml(bytesOf(pianoScore([attributes() + BAR, BAR, BAR, BAR, BAR, BAR])))
const words = (stretch: ReturnType<typeof barsMarked>) => describeStretch(arrangement, stretch)

describe('bars marked on the page', () => {
  it('go from one bar to another, whichever was touched first', () => {
    expect(
      [
        barsMarked(arrangement, 1, 3),
        barsMarked(arrangement, 3, 1),
        barsMarked(arrangement, 2, 2),
        barsMarked(arrangement, -4, 99),
      ].map(words),
    ).toEqual(['bars 2 to 4', 'bars 2 to 4', 'bar 3', 'bars 1 to 6'])
    expect(barsOfSpan(arrangement, { from: quarters(5), to: quarters(12) })).toEqual([1, 2])
    expect(wholeBarSpan(arrangement)).toEqual({ from: quarters(0), to: quarters(24) })
  })
  it('move and grow by bars, within the piece', () => {
    const two = barsMarked(arrangement, 1, 2)
    expect(
      [
        moved(arrangement, two, 1),
        moved(arrangement, two, 9),
        moved(arrangement, two, -9),
        grown(arrangement, two, 1),
        grown(arrangement, two, 9),
        grown(arrangement, two, -1),
        grown(arrangement, two, -9),
      ].map(words),
    ).toEqual(['bars 3 to 4', 'bars 5 to 6', 'bars 1 to 2', 'bars 2 to 4', 'bars 2 to 6', 'bar 2', 'bar 2'])
  })
  it('may begin and end inside a bar; an edge that is passed gives way', () => {
    const two = barsMarked(arrangement, 1, 2)
    expect(
      [
        withEdge(arrangement, two, 'from', quarters(6)),
        withEdge(arrangement, two, 'to', quarters(10)),
        withEdge(arrangement, two, 'from', quarters(16)),
        withEdge(arrangement, two, 'to', quarters(4)),
        withEdge(arrangement, two, 'to', quarters(-3)),
      ].map(words),
    ).toEqual(['bar 2, beat 3 to bar 3', 'bar 2 to bar 3, beat 2', 'bar 5', 'bar 1', 'bar 1'])
  })
  it('are found by their printed numbers', () => {
    expect(words(barsNumbered(arrangement, 5, 2)!)).toBe('bars 2 to 5')
    expect(barsNumbered(arrangement, 5, 7)).toBeUndefined()
  })
})

describe('a tapped tempo', () => {
  it('is the mean of the newest taps; a pause begins anew', () => {
    expect(tappedBeats([0])).toBeUndefined()
    expect(tappedBeats([0, 500, 1000])).toBeCloseTo(120)
    expect(tappedBeats([0, 500, 5000])).toBeUndefined()
    expect(tappedBeats([0, 500, 5000, 6000])).toBeCloseTo(60)
    expect(
      tappedBeats(Array.from({ length: 40 }, (_, tap) => (tap < 20 ? tap * 300 : 6000 + (tap - 20) * 750))),
    ).toBeCloseTo(80)
  })
})
