import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { overBars } from './over-bars'

describe('places over bars', () => {
  const { arrangement } = demoScore('snow-on-the-towpath.musicxml')
  it('are counted in bars, by the beats of each, in order', () => {
    expect(
      overBars(arrangement, [
        { bar: 5, beat: 2 },
        { bar: 2, beat: 1 },
        { bar: 5, beat: 2.5 },
      ]).map(one => one.at),
    ).toEqual([2, 5 + 1 / 3, 5.5])
  })
  it('of bars that are gone are left out', () => expect(overBars(arrangement, [{ bar: 999, beat: 1 }])).toEqual([]))
})
