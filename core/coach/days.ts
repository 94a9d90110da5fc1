const HOUR_MS = 3_600_000

/**
 * Says which day (YYYY-MM-DD) a moment (ms since 1970) belongs to in a time zone of the IANA database. A RangeError
 * names a zone there is not.
 */
export function daysIn(timeZone: string): (ms: number) => string {
  const format = new Intl.DateTimeFormat('sv-SE', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' })
  // Asked for every pass of five years; zones differ from each other by quarters of an hour.
  const known = new Map<number, string>()
  return ms => {
    const quarter = Math.floor(ms / (HOUR_MS / 4))
    const day = known.get(quarter) ?? format.format((quarter * HOUR_MS) / 4)
    known.set(quarter, day)
    return day
  }
}

/**
 * How many days of the calendar lie between two moments (ms since 1970): none within one day, one from a day to the
 * next.
 */
export function daysBetween(fromMs: number, toMs: number, dayOf: (ms: number) => string): number {
  let days = 0
  // Days have 23 to 25 hours: by six hours at a time none is stepped over.
  for (let at = fromMs, day = dayOf(fromMs); day !== dayOf(toMs) && at < toMs;) {
    at = Math.min(toMs, at + 6 * HOUR_MS)
    if (dayOf(at) === day) continue
    day = dayOf(at)
    days++
  }
  return days
}
