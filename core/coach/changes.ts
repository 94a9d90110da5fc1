import type { Arrangement } from '../music/arrangement'
import { notesKey } from '../parts/notes-key'
import type { ScoreRange } from './stage-progress'
import { stepsOf, type StepsOf } from './shown'

/** What changed in the notes since they were learned. */
export interface Changes {
  /** From an earlier key of a place's notes to the present one. */
  keys: ReadonlyMap<string, string>
  /** By notes key, the steps that are new and must be shown before the place counts as reached again. */
  again: ReadonlyMap<string, readonly string[]>
}

export const NO_CHANGES: Changes = { keys: new Map(), again: new Map() }

/** A place with more than this share of its steps changed is other music (own choice). */
const OTHER_MUSIC = 0.5

/**
 * The keys of a song's places in its earlier versions, newest first, and which of their steps are new since. What did
 * not change stays learned; a transposed song is other music for the hands.
 */
export function changesSince(
  earlierRevisions: readonly Arrangement[],
  ranges: ReadonlyMap<string, ScoreRange>,
  steps: StepsOf,
): Changes {
  const keys = new Map<string, string>()
  const again = new Map<string, string[]>()
  for (const earlier of earlierRevisions) {
    for (const [key, { stretch, hands }] of ranges) {
      const before = notesKey(earlier, stretch, hands)
      if (before === key || ranges.has(before) || keys.has(before)) continue
      const known = new Set(stepsOf(earlier, stretch, hands).map(step => step.name))
      const now = steps(stretch, hands)
      const fresh = now.filter(step => !known.has(step.name)).map(step => step.name)
      if (fresh.length > OTHER_MUSIC * now.length) continue
      keys.set(before, key)
      again.set(key, [...new Set([...(again.get(key) ?? []), ...fresh])])
    }
  }
  return { keys, again }
}
