import type { Hands } from '../music/arrangement'
import { isSameSpan, type ScoreSpan } from '../music/passage'
import { cleanStillNeeded } from './evidence'
import { MENDING, spotGate, type StageProgress } from './stage-progress'
import type { CoachSettings } from './settings'
import type { SongPlan, SongProgress } from './song-plan'

/** Progress towards a gate: clean passes in a row (in own time: without a wrong key), and how many are asked for. */
export interface GateStand {
  inARow: number
  of: number
  isOwnTime: boolean
}

/** The gate of what is played: a hard spot being mended, or a whole part or join. Undefined where there is none. */
export function gateOf(
  { ranges }: SongPlan,
  standing: SongProgress,
  stretch: ScoreSpan,
  hands: Hands,
  isOwnTime: boolean,
): GateStand | undefined {
  for (const [key, range] of ranges) {
    if (range.hands !== hands) continue
    const { phase, spot, ownTime, adaptive, ladder } = standing.stages.get(key)!
    if (phase === 'spot' && spot && isSameSpan(spot.loop, stretch))
      return { inARow: spot.inARow, of: isOwnTime ? MENDING.ownTimeGate : spotGate(range.settings), isOwnTime }
    if (!isSameSpan(range.stretch, stretch)) continue
    return isOwnTime
      ? { inARow: ownTime.inARow, of: Math.max(1, range.settings.ownTimeGate), isOwnTime }
      : { ...steadyGate(range.settings, { ladder, ...(adaptive ? { adaptive } : {}) }), isOwnTime }
  }
  return undefined
}

/** Clean passes in a row at the current tempo, and how many are asked for. */
export function steadyGate(
  { gate }: Pick<CoachSettings, 'gate'>,
  { adaptive, ladder }: Pick<StageProgress, 'adaptive' | 'ladder'>,
): { inARow: number; of: number } {
  const { inARow, evidence } = adaptive ?? ladder
  return { inARow, of: gate === 'sure' ? inARow + cleanStillNeeded(evidence) : gate }
}
