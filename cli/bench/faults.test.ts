/**
 * Lower bounds of how faults are heard, with fixed seeds, on the demo songs and on scores made by chance in all meters; players with a truth of their own.
 * What each fault must be called is common practice. `half-step bench --only faults` prints the whole tables (docs/scoring.md).
 */
import { describe, expect, it } from 'vitest'
import { FAULTS, faultHeard, goodTakes, WAYS, wayHeard } from './faults'

describe('a fault of a player who is unsteady by 8, 14 or 20 ms, over a click and without', () => {
  it.each(FAULTS.map(fault => [fault.name, fault] as const))('%s is named first or second, and nothing false is said beside it', (_name, fault) => {
    const { takes, named, nothingFalse, misses } = faultHeard(fault, 1)
    expect(takes).toBeGreaterThan(0)
    expect(named / takes, misses.join('\n')).toBeGreaterThanOrEqual(0.95)
    expect(nothingFalse / takes, misses.join('\n')).toBeGreaterThanOrEqual(0.98)
  })
})

describe('a good take', () => {
  it('(unsteady by 15 ms) is called clean in all meters, and nothing is found in it', () => {
    const { takes, clean, nothingElse } = goodTakes(2)
    expect(clean / takes).toBeGreaterThanOrEqual(0.98)
    expect(nothingElse / takes).toBeGreaterThanOrEqual(0.98)
  })
})

describe('music whose second half is its first', () => {
  it.each(WAYS.map(way => [way.name, way] as const))('%s in the second half is understood over a click, without one, and stroke by stroke', (_name, way) => {
    const { takes, steady, free, live, misses } = wayHeard(way, 6)
    for (const understood of [steady, free]) expect(understood / takes, misses.join('\n')).toBeGreaterThanOrEqual(0.97)
    // Stroke by stroke, keys tried out are believed to lead somewhere a little longer.
    expect(live / takes, misses.join('\n')).toBeGreaterThanOrEqual(way.name.includes('tried out') ? 0.9 : 0.97)
  })
})
