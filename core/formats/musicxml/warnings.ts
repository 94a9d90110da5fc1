import { LIMITS } from '../limits'

/** Collects what a file holds that is not used; the same remark in many bars becomes one line. */
export interface Warnings {
  note: (remark: string, bar?: string) => void
  lines: () => string[]
}

export function collectWarnings(): Warnings {
  const remarks = new Map<string, { first?: string, count: number }>()
  return {
    note(remark, bar) {
      const known = remarks.get(remark)
      if (known) known.count++
      else if (remarks.size < LIMITS.warnings) remarks.set(remark, { first: bar, count: 1 })
    },
    lines: () => [...remarks].map(([remark, { first, count }]) => {
      const where = first === undefined ? '' : ` (bar ${first}${count > 1 ? ` and ${count - 1} more` : ''})`
      return remark + where
    }),
  }
}
