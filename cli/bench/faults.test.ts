/**
 * Lower bounds of how faults are heard, with fixed seeds, on the demo songs and on scores made by chance in all meters;
 * players with a truth of their own. What each fault must be called is common practice. `half-step bench --only faults`
 * prints the whole tables (docs/scoring.md).
 */
import { describe, expect, it } from 'vitest'
import { FAULTS, faultHeard, goodTakes, slowRounds, WAYS, wayHeard } from './faults'

describe('a fault of a player who is unsteady by 8, 14 or 20 ms, over a click and without', () => {
  it.each(FAULTS.map(fault => [fault.name, fault] as const))(
    '%s is named first or second, and nothing false is said beside it',
    (_name, fault) => {
      const { takes, named, nothingFalse, misses } = faultHeard(fault, 1)
      expect(takes).toBeGreaterThan(0)
      expect(named / takes, misses.join('\n')).toBeGreaterThanOrEqual(0.95)
      expect(nothingFalse / takes, misses.join('\n')).toBeGreaterThanOrEqual(0.98)
    },
  )
})

describe('a good take', () => {
  it('(unsteady by 15 ms) is called clean in all meters, and nothing is found in it', () => {
    const { takes, clean, nothingElse } = goodTakes(2)
    expect(clean / takes).toBeGreaterThanOrEqual(0.98)
    expect(nothingElse / takes).toBeGreaterThanOrEqual(0.98)
  })
})

describe('music whose second half is its first', () => {
  it.each(WAYS.map(way => [way.name, way] as const))(
    '%s in the second half is understood over a click, without one, and stroke by stroke',
    (_name, way) => {
      const { takes, steady, free, live, misses } = wayHeard(way, 6)
      for (const understood of [steady, free, live])
        expect(understood / takes, misses.join('\n')).toBeGreaterThanOrEqual(0.97)
    },
  )
})

describe('a loop played slower than the click', () => {
  it('leaves the end of a round to that round, while the next one runs, and says how slow it is', () => {
    const { tail, tailRight, next, nextRight, slow, slowTold } = slowRounds(true, 1)
    expect(tailRight / tail).toBeGreaterThanOrEqual(0.97)
    expect(nextRight / next).toBeGreaterThanOrEqual(0.98)
    expect(slowTold / slow).toBeGreaterThanOrEqual(0.95)
  })

  it('gives a round that is begun with the click its own keys, when the one before was broken off', () => {
    const { next, nextRight } = slowRounds(false, 1)
    expect(nextRight / next).toBeGreaterThanOrEqual(0.98)
  })
})
