/** The ways through a score that its signs ask for (common practice). */
import { describe, expect, it } from 'vitest'
import type { Bar } from './arrangement'
import { playingOrder } from './playing-order'
import { quarters } from './quarters'

const way = (...bars: Partial<Bar>[]) =>
  playingOrder(
    bars.map((signs, index): Bar => ({
      index,
      number: index + 1,
      start: quarters(4 * index),
      length: quarters(4),
      offset: quarters(0),
      meter: { beats: 4, beatType: 4 },
      fifths: 0,
      ...signs,
    })),
  ).map(index => index + 1)

describe('the way through a score', () => {
  it.each([
    ['D.C. al Fine', [{}, { fine: true }, {}, { jump: 'da capo' }], [1, 2, 3, 4, 1, 2]],
    ['D.S. al Fine', [{}, { segno: true }, { fine: true }, { jump: 'dal segno' }], [1, 2, 3, 4, 2, 3]],
    ['D.C. al Coda', [{}, { toCoda: true }, {}, { jump: 'da capo' }, { coda: true }, {}], [1, 2, 3, 4, 1, 2, 5, 6]],
    [
      'D.S. al Coda',
      [{}, { segno: true }, { toCoda: true }, { jump: 'dal segno' }, { coda: true }],
      [1, 2, 3, 4, 2, 3, 5],
    ],
    ['a D.C. without a Fine plays on past it', [{}, { jump: 'da capo' }, {}], [1, 2, 1, 2, 3]],
    [
      'a repeat is taken before the D.C. and not after it',
      [{ repeatStart: true }, { repeatEnd: 2 }, { jump: 'da capo', fine: true }],
      [1, 2, 1, 2, 3, 1, 2, 3],
    ],
    [
      'the last ending only, after the D.C.',
      [{ repeatStart: true }, { endings: [1], repeatEnd: 2 }, { endings: [2] }, { jump: 'da capo' }],
      [1, 2, 1, 3, 4, 1, 3, 4],
    ],
    [
      'a D.S. to the middle of a repeated section with endings',
      [
        { repeatStart: true },
        { segno: true },
        { endings: [1], repeatEnd: 2 },
        { endings: [2], toCoda: true },
        { jump: 'dal segno' },
        { coda: true },
      ],
      [1, 2, 3, 1, 2, 4, 5, 2, 4, 6],
    ],
    ['a D.S. without a segno goes to the beginning', [{}, { jump: 'dal segno' }], [1, 2, 1, 2]],
  ] satisfies [string, Partial<Bar>[], number[]][])('%s', (_name, bars, expected) =>
    expect(way(...bars)).toEqual(expected),
  )
})
