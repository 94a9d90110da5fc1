import { describe, expect, it } from 'vitest'
import { acceptedLanguages, datesIn, readerLocale } from './dates'

describe('dates as a player reads them', () => {
  it('days, by the calendar and not by 24 hours', () => {
    const { dayName } = datesIn('en-GB')
    const now = new Date(2026, 2, 10, 0, 20)
    expect(dayName(new Date(2026, 2, 10, 0, 1), now)).toBe('today')
    expect(dayName(new Date(2026, 2, 9, 23, 59), now)).toBe('yesterday')
    expect(dayName(new Date(2026, 2, 4, 12), now)).toBe('6 days ago')
    expect(dayName('2026-03-03', now)).toBe('3 March')
    expect(dayName(new Date(2025, 11, 31), now)).toBe('31 December 2025')
    expect(dayName(null, now)).toBe('never')
  })
  // Common practice: month before day in the United States, day before month in Britain; CLDR through the platform's
  // Intl.
  it('in the order of the player’s region', () => {
    const now = new Date(2026, 0, 1)
    expect(datesIn('en-US').date('2026-03-03', now)).toBe('March 3')
    expect(datesIn('en-GB').date('2026-03-03', now)).toBe('3 March')
    expect(datesIn('en-US').timeOfDay(new Date(2026, 0, 1, 19, 5))).toMatch(/^0?7:05\sPM$/)
    expect(datesIn('en-GB').timeOfDay(new Date(2026, 0, 1, 19, 5))).toBe('19:05')
    expect([datesIn('en-GB').number(12345), datesIn('en-DE').number(12345)]).toEqual(['12,345', '12.345'])
  })
  it('in English, whatever language the browser asks for', () => {
    expect(readerLocale(['en-AU', 'en'])).toBe('en-AU')
    expect(readerLocale(['de-DE', 'en-US'])).toBe('en-DE')
    expect(readerLocale(['de', 'en-US'])).toBe('en-US')
    expect(readerLocale(['!!', 'x'.repeat(40)])).toBe('en-GB')
    expect(readerLocale([])).toBe('en-GB')
  })
  // RFC 9110, 12.5.4: a weight of 1 where none is given.
  it('the languages of a header, most wanted first', () => {
    expect(acceptedLanguages('fr-CH, fr;q=0.9, en;q=0.8, de;q=0.95, *;q=0.5')).toEqual(['fr-CH', 'de', 'fr', 'en'])
    expect(acceptedLanguages(undefined)).toEqual([])
  })
})
