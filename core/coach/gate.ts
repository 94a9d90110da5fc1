import type { Hands } from '../music/arrangement'
import { isSameStretch, type Stretch } from '../music/passage'
import { cleanStillNeeded } from './evidence'
import { MENDING, spotGate, type StageProgress } from './stage-progress'
import type { CoachSettings } from './settings'
import type { SongPlan, SongProgress } from './song-plan'

/** How near a gate is: clean passes in a row (in own time: without a wrong key), of how many. */
export interface GateStand {
  inARow: number
  of: number
  isOwnTime: boolean
}

/**
 * The gate of what is played: a hard place that is being mended, or a whole part or join. Undefined where there is
 * none.
 */
export function gateOf(
  { ranges }: SongPlan,
  standing: SongProgress,
  stretch: Stretch,
  hands: Hands,
  isOwnTime: boolean,
): GateStand | undefined {
  for (const [key, range] of ranges) {
    if (range.hands !== hands) continue
    const { phase, spot, ownTime, adaptive, ladder } = standing.stages.get(key)!
    if (phase === 'spot' && spot && isSameStretch(spot.loop, stretch))
      return { inARow: spot.inARow, of: isOwnTime ? MENDING.ownTimeGate : spotGate(range.settings), isOwnTime }
    if (!isSameStretch(range.stretch, stretch)) continue
    return isOwnTime
      ? { inARow: ownTime.inARow, of: Math.max(1, range.settings.ownTimeGate), isOwnTime }
      : { ...steadyGate(range.settings, { ladder, ...(adaptive ? { adaptive } : {}) }), isOwnTime }
  }
  return undefined
}

/** Clean passes in a row at the tempo that is stood on, of how many. */
export function steadyGate(
  { gate }: Pick<CoachSettings, 'gate'>,
  { adaptive, ladder }: Pick<StageProgress, 'adaptive' | 'ladder'>,
): { inARow: number; of: number } {
  const { inARow, evidence } = adaptive ?? ladder
  return { inARow, of: gate === 'sure' ? inARow + cleanStillNeeded(evidence) : gate }
}
