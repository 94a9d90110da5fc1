import { expect, it } from 'vitest'
import { calendarOf } from './calendar'

/**
 * RFC 5545, Internet Calendaring: 3.1 (lines of at most 75 octets, CRLF), 3.6.1 (an event has UID and DTSTAMP), 3.3.5
 * (local time has no Z).
 */
it('the coming sessions are iCalendar as RFC 5545 has it', () => {
  const text = calendarOf(
    [
      {
        day: '2026-12-01',
        minutes: 30,
        title: 'Piano: A Song; with, signs',
        lines: [
          'Comes back:',
          'A very long line that says which part of which song comes back on this day, and goes on',
        ],
      },
      { day: '2026-12-02', minutes: 90, title: 'Piano', lines: ['x'] },
    ],
    { hour: 18, minute: 0 },
    [{ day: '2026-12-24', title: 'A Song' }],
  )
  const lines = text.split('\r\n')
  expect(lines.every(line => new TextEncoder().encode(line).length <= 75 && !line.includes('\n'))).toBe(true)
  const unfolded = text.replace(/\r\n[ \t]/g, '').split('\r\n')
  expect(unfolded[0]).toBe('BEGIN:VCALENDAR')
  expect(unfolded).toContain('VERSION:2.0')
  expect(unfolded.filter(line => line.startsWith('UID:'))).toEqual([
    'UID:session-2026-12-01@half-step',
    'UID:session-2026-12-02@half-step',
    'UID:goal-2026-12-24-A-Song@half-step',
  ])
  expect(unfolded.filter(line => line.startsWith('DTSTAMP:')).length).toBe(3)
  expect(unfolded).toContain('DTSTART:20261201T180000')
  expect(unfolded).toContain('DTSTART;VALUE=DATE:20261224')
  expect(unfolded.some(line => /^DURATION:PT1H30M/.test(line))).toBe(true)
  expect(unfolded.some(line => line === 'SUMMARY:Piano: A Song\\; with\\, signs')).toBe(true)
  expect(unfolded.some(line => line.startsWith('DESCRIPTION:Comes back:\\nA very long line'))).toBe(true)
})
