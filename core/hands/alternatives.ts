import type { FingerNote } from './finger-note'
import { findFingering, type Fingering, type FingeringEventKind, type FingeringOptions } from './fingering'
import type { Finger } from './ergonomics'

/** Another finger for one note, and what the hand then does more or less often than with the suggested one. */
export interface ComparedFinger {
  finger: Finger
  extraCost: number
  fewer: Partial<Record<FingeringEventKind, number>>
  more: Partial<Record<FingeringEventKind, number>>
}

/** How far around a note another finger is felt. */
const AROUND = 24

/** The other fingers that a note could have, easiest first, with what each would change around it. */
export function compareFingers(
  notes: readonly FingerNote[],
  fingering: Fingering,
  id: string,
  options: FingeringOptions,
): ComparedFinger[] {
  const at = notes.findIndex(note => note.id === id)
  const own = fingering.notes[at]
  if (!own) return []
  const from = Math.max(0, at - AROUND)
  const around = notes.slice(from, at + AROUND + 1)
  const before = countEvents(findFingering(around, options))
  return own.alternatives.map(({ finger, extraCost }) => {
    const after = countEvents(
      findFingering(
        around.map(note => (note.id === id ? { ...note, locked: finger } : note)),
        options,
      ),
    )
    const compared: ComparedFinger = { finger, extraCost, fewer: {}, more: {} }
    for (const kind of new Set([...before.keys(), ...after.keys()])) {
      const difference = (after.get(kind) ?? 0) - (before.get(kind) ?? 0)
      if (difference !== 0) compared[difference > 0 ? 'more' : 'fewer'][kind] = Math.abs(difference)
    }
    return compared
  })
}

function countEvents({ events }: Fingering): Map<FingeringEventKind, number> {
  const counts = new Map<FingeringEventKind, number>()
  for (const { kind } of events) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  return counts
}
