import { createEvents, type EventAttributes } from 'ics'

export interface CalendarDay {
  day: string
  minutes: number
  title: string
  lines: string[]
}

/**
 * The coming sessions as iCalendar (RFC 5545): one event a day at the player's usual time, in local time, and the day
 * the song is to be ready. The ids stay the same, so that importing it again moves events instead of doubling them.
 */
export function calendarOf(
  days: readonly CalendarDay[],
  startsAt: { hour: number; minute: number },
  goals: readonly { day: string; title: string }[],
): string {
  const dateOf = (day: string) => day.split('-').map(Number) as [number, number, number]
  const events: EventAttributes[] = [
    ...days.map(({ day, minutes, title, lines }): EventAttributes => ({
      uid: `session-${day}@half-step`,
      start: [...dateOf(day), startsAt.hour, startsAt.minute],
      startInputType: 'local',
      startOutputType: 'local',
      duration: { hours: Math.floor(minutes / 60), minutes: minutes % 60 },
      title,
      description: lines.join('\n'),
      productId: 'half-step',
      status: 'TENTATIVE',
    })),
    ...goals.map(({ day, title }): EventAttributes => ({
      uid: `goal-${day}-${title.replace(/\W+/g, '-')}@half-step`,
      start: dateOf(day),
      duration: { days: 1 },
      title: `${title} is to be ready`,
      productId: 'half-step',
    })),
  ]
  const { error, value } = createEvents(events)
  if (error || !value) throw error ?? new Error('the calendar could not be written')
  return value
}
