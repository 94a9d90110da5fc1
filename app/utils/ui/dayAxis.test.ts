import { expect, test } from 'vitest'
import { dayAxis } from './dayAxis'

test('a first day is shown among the days around it', () => {
  expect(dayAxis(['2026-11-29'])).toEqual({ type: 'date', range: ['2026-11-24 12:00', '2026-12-03 12:00'] })
  expect(dayAxis(['2026-12-30', '2027-01-02', '2026-12-31'])).toEqual({
    type: 'date',
    range: ['2026-12-26 12:00', '2027-01-05 12:00'],
  })
})

test('days that fill it need nothing beside them', () => {
  expect(dayAxis(['2026-11-01', '2026-11-09'])).toEqual({ type: 'date' })
  expect(dayAxis([])).toEqual({ type: 'date' })
})
