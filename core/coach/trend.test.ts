import { describe, expect, it } from 'vitest'
import { trendOf, type TrendDay } from './trend'

const day = (
  name: string,
  passes: number,
  clean: number,
  unsteadinessMs: number | null = 30,
  minutes = 10,
): TrendDay => ({ day: name, minutes, passes, clean, unsteadinessMs })

describe('the newest days beside those before', () => {
  it('are told apart by the calendar: a day two weeks ago belongs to those before', () => {
    const { now, before } = trendOf(
      [
        day('2026-03-03', 5, 0),
        day('2026-03-04', 10, 2),
        day('2026-03-17', 20, 10),
        day('2026-03-18', 10, 5),
        day('2026-03-31', 30, 24),
      ],
      '2026-03-31',
    )
    expect([now.days, now.passes, now.cleanShare]).toEqual([2, 40, 29 / 40])
    expect([before.days, before.passes, before.cleanShare]).toEqual([2, 30, 12 / 30])
  })
  it('weigh unsteadiness by the passes it was measured in, and leave days without one out of it', () => {
    const { now } = trendOf(
      [day('2026-03-30', 10, 1, 20), day('2026-03-31', 30, 1, 40), day('2026-03-29', 50, 1, null)],
      '2026-03-31',
    )
    expect(now.unsteadinessMs).toBe(35)
  })
  it('say nothing where there is nothing', () => {
    expect(trendOf([], '2026-03-31').now).toEqual({
      days: 0,
      minutes: 0,
      passes: 0,
      cleanShare: null,
      unsteadinessMs: null,
    })
  })
})
