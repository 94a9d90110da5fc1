import { LIMITS } from '../../music/limits'
import type { Remark, RemarkPlaces } from '../../music/remark'

type Bare<One> = One extends unknown ? Omit<One, keyof RemarkPlaces> : never

/** Collects what a file holds that is not used; the same remark in many bars becomes one. */
export interface Warnings {
  note: (remark: Bare<Remark>, bar?: string) => void
  all: () => Remark[]
}

export function collectWarnings(): Warnings {
  const remarks = new Map<string, Remark>()
  return {
    note(remark, bar) {
      const key = JSON.stringify(remark)
      const known = remarks.get(key)
      if (known) known.places = (known.places ?? 1) + 1
      else if (remarks.size < LIMITS.warnings)
        remarks.set(key, { ...remark, ...(bar === undefined ? {} : { bar }) } as Remark)
    },
    all: () => [...remarks.values()],
  }
}
