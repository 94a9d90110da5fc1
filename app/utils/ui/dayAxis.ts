import { extent } from 'd3-array'
import type { LayoutAxis } from 'plotly.js'

const DAY_MS = 86_400_000
/** An axis of days shows at least this many: shorter ones would be labelled in hours. */
const MIN_DAYS = 8

/** An axis of days (ISO dates). Where they lie close together, days before and after them are shown too. */
export function dayAxis(days: readonly string[]): Partial<LayoutAxis> {
  const [first, last] = extent(days, day => Date.parse(day))
  if (first === undefined || last - first >= MIN_DAYS * DAY_MS) return { type: 'date' }
  const beyond = Math.ceil((MIN_DAYS - (last - first) / DAY_MS) / 2) * DAY_MS
  // Ends at noon, so that no day is named in a corner.
  const noonOf = (at: number) => `${new Date(at).toISOString().slice(0, 10)} 12:00`
  return { type: 'date', range: [noonOf(first - beyond - DAY_MS), noonOf(last + beyond)] }
}
