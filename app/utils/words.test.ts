import { describe, expect, it } from 'vitest'
import { dayName } from './days'
import { signatureText } from '#core/words/note-names'
import { messageOf } from './messageOf'

describe('words for the player', () => {
  it('days, by the calendar and not by 24 hours', () => {
    const now = new Date(2026, 2, 10, 0, 20)
    expect(dayName(new Date(2026, 2, 10, 0, 1), now)).toBe('today')
    expect(dayName(new Date(2026, 2, 9, 23, 59), now)).toBe('yesterday')
    expect(dayName(new Date(2026, 2, 4, 12), now)).toBe('6 days ago')
    expect(dayName(new Date(2026, 2, 3, 12), now)).toBe('3 March')
    expect(dayName(new Date(2025, 11, 31), now)).toBe('31 December 2025')
    expect(dayName(null, now)).toBe('never')
  })

  it('key signatures, without deciding between major and minor', () => {
    expect([0, 1, 3, -1, -4].map(signatureText)).toEqual(['no sharps or flats', '1 sharp', '3 sharps', '1 flat', '4 flats'])
  })

  it('what a failed request has to say', () => {
    expect(messageOf({ data: { message: 'the reason' }, message: 'POST …: 422' })).toBe('the reason')
    expect(messageOf(new Error('offline'))).toBe('offline')
    expect(messageOf({})).toContain('try again')
  })
})
