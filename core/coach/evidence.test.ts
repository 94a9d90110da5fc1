import { describe, expect, it } from 'vitest'
import {
  afterResult,
  cleanProbability,
  cleanStillNeeded,
  isSure,
  NO_EVIDENCE,
  type Evidence,
  type PassResult,
} from './evidence'

const after = (...results: PassResult[]): Evidence => results.reduce(afterResult, NO_EVIDENCE)

describe('being sure that it was no luck', () => {
  it('is the rule of succession while nothing fades: one clean of one makes two in three likely (Laplace 1814, unchecked)', () => {
    expect(cleanProbability(NO_EVIDENCE)).toBe(1 / 2)
    expect(cleanProbability(after('clean'))).toBeCloseTo(2 / 3)
    expect(cleanProbability({ clean: 9, failed: 1 })).toBeCloseTo(10 / 12)
  })
  it('takes one clean pass first time and after a slip, two after misses, three after many', () => {
    expect(isSure(after('clean'))).toBe(true)
    expect(isSure(after('near', 'clean'))).toBe(true)
    expect([isSure(after('missed', 'clean')), isSure(after('missed', 'clean', 'clean'))]).toEqual([false, true])
    const often = Array.from({ length: 12 }, (): PassResult => 'missed')
    expect([isSure(after(...often, 'clean', 'clean')), isSure(after(...often, 'clean', 'clean', 'clean'))]).toEqual([
      false,
      true,
    ])
  })
  it('says how many are still needed, and that many are enough', () => {
    for (const played of [
      [],
      ['near'],
      ['missed'],
      ['missed', 'missed', 'missed'],
      ['clean', 'missed'],
      ['missed', 'clean'],
    ] as PassResult[][]) {
      let evidence = after(...played)
      const needed = cleanStillNeeded(evidence)
      for (let pass = 0; pass < needed; pass++) {
        if (pass > 0) expect(isSure(evidence)).toBe(false)
        evidence = afterResult(evidence, 'clean')
      }
      expect(isSure(evidence), played.join(' ')).toBe(true)
    }
  })
})
