const DAY_MS = 86_400_000

/** "today", "yesterday", "3 days ago", or the date, in the reader's time zone. */
export function dayName(when: string | Date | null | undefined, now = new Date()): string {
  if (!when) return 'never'
  const date = new Date(when)
  const midnight = (day: Date) => new Date(day.getFullYear(), day.getMonth(), day.getDate()).getTime()
  const days = Math.round((midnight(now) - midnight(date)) / DAY_MS)
  if (days <= 0) return 'today'
  if (days === 1) return 'yesterday'
  if (days < 7) return `${days} days ago`
  return date.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: date.getFullYear() === now.getFullYear() ? undefined : 'numeric' })
}

export const timeOfDay = (when: string | Date): string =>
  new Date(when).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
