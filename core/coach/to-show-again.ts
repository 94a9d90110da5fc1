import { HANDS } from '#core/music/arrangement'
import type { Hands } from '../music/arrangement'
import { barNumbersOf, knownOf } from './shown'
import { isReached, type SongPlan, type SongProgress } from './song-plan'

/** Bars in which learned music has changed. */
export interface RelearnBars {
  hands: Hands
  bars: number[]
}

/**
 * What must be shown again, in parts that had been reached, once the song is as in `after`: by hands, the bars with
 * steps that were never demonstrated.
 */
export function barsToRelearn(before: SongPlan, standing: SongProgress, after: SongPlan): RelearnBars[] {
  const fresh: Record<Hands, Set<number>> = { right: new Set(), left: new Set(), both: new Set() }
  for (const stage of after.stages) {
    if (stage.unit.kind !== 'part' || standing.stages.get(stage.key)?.reachedBpm) continue
    const was = before.stages.find(
      other => other.unit.kind === 'part' && other.unit.first === stage.unit.first && other.hands === stage.hands,
    )
    if (!was || !isReached(before, was, standing)) continue
    for (const bar of barNumbersOf(
      after.arrangement,
      knownOf(standing.shown, after.steps(stage.unit.stretch, stage.hands)).fresh,
    ))
      fresh[stage.hands].add(bar)
  }
  return HANDS.flatMap(hands =>
    fresh[hands].size > 0 ? [{ hands, bars: [...fresh[hands]].sort((a, b) => a - b) }] : [],
  )
}
