import type { Hands } from '../music/arrangement'
import { isSameStretch, type Stretch } from '../music/passage'
import { cleanStillNeeded } from './evidence'
import { MENDING, spotGate, type StageProgress } from './flight'
import type { CoachSettings } from './settings'
import type { SongPlan, SongProgress } from './song-plan'

/** How near a gate is: clean passes in a row (in own time: without a wrong key), of how many. */
export interface GateStand { inARow: number, of: number, isOwnTime: boolean }

/** The gate of what is played: a hard place that is being mended, or a whole part or join. Undefined where there is none. */
export function gateOf({ grounds }: SongPlan, standing: SongProgress, stretch: Stretch, hands: Hands, isOwnTime: boolean): GateStand | undefined {
  for (const [key, ground] of grounds) {
    if (ground.hands !== hands) continue
    const { phase, spot, ownTime, adaptive, ladder } = standing.flights.get(key)!
    if (phase === 'spot' && spot && isSameStretch(spot.loop, stretch)) return { inARow: spot.inARow, of: isOwnTime ? MENDING.ownTimeGate : spotGate(ground.settings), isOwnTime }
    if (!isSameStretch(ground.stretch, stretch)) continue
    return isOwnTime
      ? { inARow: ownTime.inARow, of: Math.max(1, ground.settings.ownTimeGate), isOwnTime }
      : { ...steadyGate(ground.settings, { ladder, ...(adaptive ? { adaptive } : {}) }), isOwnTime }
  }
  return undefined
}

/** Clean passes in a row at the tempo that is stood on, of how many. */
export function steadyGate({ gate }: Pick<CoachSettings, 'gate'>, { adaptive, ladder }: Pick<StageProgress, 'adaptive' | 'ladder'>): { inARow: number, of: number } {
  const { inARow, evidence } = adaptive ?? ladder
  return { inARow, of: gate === 'sure' ? inARow + cleanStillNeeded(evidence) : gate }
}
