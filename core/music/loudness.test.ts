import { describe, expect, it } from 'vitest'
import { loudnessOf, playable } from './loudness'
import { quarters } from './quarters'

const at = (n: number, mark: string, hand?: 'right' | 'left') => ({
  onset: quarters(n),
  mark,
  ...(hand ? { hand } : {}),
})
const levels = (marks: Parameters<typeof loudnessOf>[0], ...places: number[]) =>
  places.map(place => Math.round(loudnessOf(marks, 'right')(quarters(place))))

describe('loudness', () => {
  it('follows the usual order of levels (common practice) and holds until the next', () => {
    const order = ['ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff'].map(mark => loudnessOf([at(0, mark)])(quarters(0)))
    expect([...order].sort((a, b) => a - b)).toEqual(order)
    expect(new Set(order).size).toBe(8)
    const [p, f] = levels([at(0, 'p'), at(4, 'f')], 3, 4)
    expect(levels([at(0, 'p'), at(4, 'f')], 0, 3, 4, 100)).toEqual([p, p, f, f])
    expect(levels([at(4, 'f')], 0)).toEqual([0])
  })

  it('grows through a crescendo up to the level at its end, and by itself where none is marked', () => {
    const marks = [at(0, 'p'), at(4, 'crescendo'), at(8, 'wedge end'), at(8, 'f')]
    const [p, begin, middle, f] = levels(marks, 0, 4, 6, 8)
    expect([begin, middle]).toEqual([p, Math.round((p! + f!) / 2)])
    const [before, behind, later] = levels([at(0, 'mf'), at(4, 'diminuendo'), at(8, 'wedge end')], 4, 8, 20)
    expect(behind).toBeLessThan(before!)
    expect(later).toBe(behind)
  })

  it('is more for a moment with sfz and fp, and as before or soft behind it', () => {
    expect(levels([at(0, 'p'), at(4, 'sfz')], 3, 5)).toEqual(levels([at(0, 'p')], 3, 5))
    expect(levels([at(0, 'p'), at(4, 'sfz')], 4)[0]).toBeGreaterThan(levels([at(0, 'p')], 4)[0]!)
    expect(levels([at(0, 'fp')], 0, 1)).toEqual([...levels([at(0, 'f')], 0), ...levels([at(0, 'p')], 1)])
  })

  it("of one hand is not the other one's; velocities stay within what MIDI has", () => {
    expect(levels([at(0, 'ff', 'left')], 0)).toEqual([0])
    expect([playable(-40), playable(300)].every(velocity => velocity >= 1 && velocity <= 127)).toBe(true)
  })
})
