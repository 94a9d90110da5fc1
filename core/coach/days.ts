const HOUR_MS = 3_600_000

/**
 * Gives a function from a time (ms since 1970) to its day (YYYY-MM-DD) in an IANA time zone. Throws a RangeError for an
 * unknown zone.
 */
export function daysIn(timeZone: string): (ms: number) => string {
  const format = new Intl.DateTimeFormat('sv-SE', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' })
  // Called for every pass of five years; time zones differ by quarters of an hour.
  const known = new Map<number, string>()
  return ms => {
    const quarter = Math.floor(ms / (HOUR_MS / 4))
    const day = known.get(quarter) ?? format.format((quarter * HOUR_MS) / 4)
    known.set(quarter, day)
    return day
  }
}

/** Calendar days between two times (ms since 1970): 0 within one day, 1 from a day to the next. */
export function daysBetween(fromMs: number, toMs: number, dayOf: (ms: number) => string): number {
  let days = 0
  // Days have 23 to 25 hours: steps of six hours skip none.
  for (let at = fromMs, day = dayOf(fromMs); day !== dayOf(toMs) && at < toMs;) {
    at = Math.min(toMs, at + 6 * HOUR_MS)
    if (dayOf(at) === day) continue
    day = dayOf(at)
    days++
  }
  return days
}
