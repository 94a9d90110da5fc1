interface Day {
  day: string
  minutes: number
  passes: number
  clean: number
  unsteadinessMs?: number | null
}

/** Days gathered into weeks from Monday on; unsteadiness weighed by the passes it was measured in. */
export function byWeek(days: readonly Day[]): (Omit<Day, 'day'> & { from: string; unsteadinessMs: number | null })[] {
  const weeks = new Map<
    string,
    { from: string; minutes: number; passes: number; clean: number; sum: number; measured: number }
  >()
  for (const { day, minutes, passes, clean, unsteadinessMs } of days) {
    const date = new Date(`${day}T12:00:00Z`)
    date.setUTCDate(date.getUTCDate() - ((date.getUTCDay() + 6) % 7))
    const from = date.toISOString().slice(0, 10)
    const week = weeks.get(from) ?? { from, minutes: 0, passes: 0, clean: 0, sum: 0, measured: 0 }
    const isMeasured = typeof unsteadinessMs === 'number'
    weeks.set(from, {
      from,
      minutes: week.minutes + minutes,
      passes: week.passes + passes,
      clean: week.clean + clean,
      sum: week.sum + (isMeasured ? unsteadinessMs * passes : 0),
      measured: week.measured + (isMeasured ? passes : 0),
    })
  }
  return [...weeks.values()].map(({ sum, measured, ...week }) => ({
    ...week,
    unsteadinessMs: measured > 0 ? sum / measured : null,
  }))
}
