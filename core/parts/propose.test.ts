import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { attributes, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { arrangementEnd, positionOf, type Arrangement } from '../music/arrangement'
import { equal, toDecimal } from '../music/quarters'
import { proposeParts } from './propose'

const DOUBLE = '<barline location="right"><bar-style>light-light</bar-style></barline>'
const mark = (name: string) => `<direction><direction-type><rehearsal>${name}</rehearsal></direction-type></direction>`
const bars = (count: number, extra: Record<number, [before?: string, after?: string]> = {}) =>
  readMusicXml(
    bytesOf(
      pianoScore(
        Array.from(
          { length: count },
          (_, index) =>
            (index === 0 ? attributes() : '') +
            (extra[index + 1]?.[0] ?? '') +
            quarterNotes('C4 D4 E4 F4') +
            (extra[index + 1]?.[1] ?? ''),
        ),
      ),
    ),
  ).arrangement

const edges = (arrangement: Arrangement, mostBars?: number) =>
  proposeParts(arrangement, mostBars).map(part => {
    const { bar, beat } = positionOf(arrangement, part.from)
    return `${part.name} ${bar}:${beat}`
  })

/** Nothing of the song is left out or in two parts. */
function expectWhole(arrangement: Arrangement, mostBars?: number) {
  const parts = proposeParts(arrangement, mostBars)
  expect(toDecimal(parts[0]!.from)).toBe(0)
  parts.slice(1).forEach((part, index) => expect(equal(part.from, parts[index]!.to)).toBe(true))
  expect(equal(parts.at(-1)!.to, arrangementEnd(arrangement))).toBe(true)
}

describe('proposed parts', () => {
  it('begin at rehearsal marks, on the very beat of the pickup', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    expect(edges(arrangement)).toEqual([
      'Verse 1, a 0:4',
      'Verse 1, b 4:4',
      'Verse 2, a 8:4',
      'Verse 2, b 12:4',
      'Bridge, a 16:4',
      'Bridge, b 20:4',
      'Verse 3, a 24:4',
      'Verse 3, b 28:4',
    ])
  })

  it('are as long as the player wishes', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    expect(proposeParts(arrangement, 8)).toHaveLength(4)
    expect(proposeParts(arrangement, 2)).toHaveLength(16)
    for (const mostBars of [1, 2, 3, 4, 8, 100]) expectWhole(arrangement, mostBars)
  })

  it('begin after double bars and at repeats when no mark stands there', () => {
    expect(
      edges(
        bars(12, { 4: [undefined, DOUBLE], 9: ['<barline location="left"><repeat direction="forward"/></barline>'] }),
      ),
    ).toEqual(['Part 1 1:1', 'Part 2 5:1', 'Part 3 9:1'])
  })

  it('take a mark and the double bar just before it for one edge', () => {
    expect(edges(bars(8, { 1: [mark('A')], 4: [undefined, DOUBLE], 5: [mark('B')] }))).toEqual(['A 1:1', 'B 5:1'])
  })

  it('of a song without any sign are even pieces of about four bars', () => {
    expect(edges(bars(10))).toEqual(['Part 1 1:1', 'Part 2 6:1'])
    expect(edges(bars(16))).toEqual(['Part 1 1:1', 'Part 2 5:1', 'Part 3 9:1', 'Part 4 13:1'])
    expect(edges(bars(1))).toEqual(['Part 1 1:1'])
  })

  it('cover every song once, wherever its signs stand', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 30 }),
        fc.dictionary(fc.integer({ min: 1, max: 30 }).map(String), fc.constantFrom('mark', 'double'), { maxKeys: 6 }),
        fc.integer({ min: 1, max: 9 }),
        (count, signs, mostBars) => {
          const extra = Object.fromEntries(
            Object.entries(signs).map(([bar, sign]) => [
              bar,
              sign === 'mark' ? [mark(`M${bar}`)] : [undefined, DOUBLE],
            ]),
          ) as Parameters<typeof bars>[1]
          const arrangement = bars(count, extra)
          expectWhole(arrangement, mostBars)
          const lengths = proposeParts(arrangement, mostBars, mostBars).map(
            part => (toDecimal(part.to) - toDecimal(part.from)) / 4,
          )
          // Two and two do not make three: one part is a bar longer then rather than a bar alone.
          for (const length of lengths) expect(length).toBeLessThanOrEqual(mostBars === 2 ? 3 : mostBars)
          for (const length of lengths) expect(length).toBeGreaterThanOrEqual(Math.min(2, count, mostBars))
        },
      ),
      { numRuns: 150, seed: 2 },
    )
  })

  it('hold in a song that changes its meter', () => {
    const changing = readMusicXml(
      bytesOf(
        pianoScore([
          attributes() + quarterNotes('C4 D4 E4 F4'),
          quarterNotes('C4 D4 E4 F4'),
          '<attributes><time><beats>3</beats><beat-type>4</beat-type></time></attributes>' + quarterNotes('C4 D4 E4'),
          quarterNotes('C4 D4 E4'),
          note({ pitch: 'C4', length: 3, type: 'half' }),
        ]),
      ),
    ).arrangement
    expectWhole(changing, 2)
    expect(edges(changing, 2)).toEqual(['Part 1 1:1', 'Part 2 3:1'])
  })
})
