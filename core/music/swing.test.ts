import { describe, expect, it } from 'vitest'
import { quarters } from './quarters'
import { askedRatio, swingAt, swungShare } from './swing'

const at = (n: number) => quarters(n)

describe('swing', () => {
  it('is in force from its mark to the next', () => {
    const marks = [
      { onset: at(4), unit: 'eighth' as const, ratio: 2 },
      { onset: at(12), unit: 'eighth' as const, ratio: 1 },
    ]
    expect(swingAt(marks, at(3))).toBeUndefined()
    expect(swingAt(marks, at(4))).toBe(marks[0])
    expect(swingAt(marks, at(20))).toBe(marks[1])
  })

  it('moves the second of two eighths and leaves triplets and beats where they are', () => {
    const swing = { onset: at(0), unit: 'eighth' as const, ratio: 2 }
    expect(swungShare(swing, quarters(1, 2), 100)).toBeCloseTo(1 / 6, 9)
    expect(swungShare(swing, quarters(5, 2), 100)).toBeCloseTo(1 / 6, 9)
    for (const place of [at(0), quarters(1, 3), quarters(2, 3), quarters(1, 4), at(3)])
      expect(swungShare(swing, place, 100)).toBe(0)
    expect(swungShare({ ...swing, ratio: 1 }, quarters(1, 2), 100)).toBe(0)
  })

  it('of sixteenths moves the second of two sixteenths', () => {
    const swing = { onset: at(0), unit: '16th' as const, ratio: 3 }
    expect(swungShare(swing, quarters(1, 4), 80)).toBeCloseTo(1 / 8, 9)
    expect(swungShare(swing, quarters(1, 2), 80)).toBe(0)
  })

  it('without a ratio goes by the tempo, of sixteenths by twice the tempo', () => {
    expect(askedRatio({ onset: at(0), unit: 'eighth' }, 120)).toBe(2)
    expect(askedRatio({ onset: at(0), unit: 'eighth' }, 240)).toBeCloseTo(1.5, 9)
    expect(askedRatio({ onset: at(0), unit: '16th' }, 120)).toBeCloseTo(1.5, 9)
  })
})
