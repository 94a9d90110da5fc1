import type { Arrangement, Hands } from '../music/arrangement'
import { notesKey } from '../parts/notes-key'
import type { Ground } from './flight'
import { barsOf, knownOf, stepsOf, type StepsOf } from './shown'
import { isReached, type SongPlan, type SongStanding } from './song-plan'

/** What was changed in the notes since they were learned. */
export interface Changes {
  /** By an earlier name of a place's notes, the one they have now. */
  keys: ReadonlyMap<string, string>
  /** By name, the steps there that are new since and must be shown before it counts as reached again. */
  again: ReadonlyMap<string, readonly string[]>
}

export const NO_CHANGES: Changes = { keys: new Map(), again: new Map() }

/** A place of which more than this share of the steps was changed is other music. Own choice. */
const OTHER_MUSIC = 0.5

/**
 * What the places of a song were called in its earlier versions, newest first, and which of their steps are new since. What did not change stays
 * learned; a transposed song is other music for the hands.
 */
export function changesSince(formers: readonly Arrangement[], grounds: ReadonlyMap<string, Ground>, steps: StepsOf): Changes {
  const keys = new Map<string, string>()
  const again = new Map<string, string[]>()
  for (const former of formers) {
    for (const [key, { stretch, hands }] of grounds) {
      const before = notesKey(former, stretch, hands)
      if (before === key || grounds.has(before) || keys.has(before)) continue
      const known = new Set(stepsOf(former, stretch, hands).map(step => step.name))
      const now = steps(stretch, hands)
      const fresh = now.filter(step => !known.has(step.name)).map(step => step.name)
      if (fresh.length > OTHER_MUSIC * now.length) continue
      keys.set(before, key)
      again.set(key, [...new Set([...again.get(key) ?? [], ...fresh])])
    }
  }
  return { keys, again }
}

/** Bars in which something that was learned is not the same any more. */
export interface ToShowAgain { hands: Hands, bars: number[] }

/** What must be shown again in parts that had been reached, once the song is as in `after`: by hands, the bars with steps that were never shown. */
export function toShowAgain(before: SongPlan, standing: SongStanding, after: SongPlan): ToShowAgain[] {
  const fresh: Record<Hands, Set<number>> = { right: new Set(), left: new Set(), both: new Set() }
  for (const stage of after.stages) {
    if (stage.unit.kind !== 'part' || standing.flights.get(stage.key)?.reachedBpm) continue
    const was = before.stages.find(other => other.unit.kind === 'part' && other.unit.first === stage.unit.first && other.hands === stage.hands)
    if (!was || !isReached(before, was, standing)) continue
    for (const bar of barsOf(after.arrangement, knownOf(standing.shown, after.steps(stage.unit.stretch, stage.hands)).fresh)) fresh[stage.hands].add(bar)
  }
  return (['right', 'left', 'both'] as const).flatMap(hands => fresh[hands].size > 0 ? [{ hands, bars: [...fresh[hands]].sort((a, b) => a - b) }] : [])
}
