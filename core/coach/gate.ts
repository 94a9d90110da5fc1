import type { Hands } from '../music/arrangement'
import { isSameStretch, type Stretch } from '../music/passage'
import { MENDING } from './flight'
import type { SongPlan, SongStanding } from './song-plan'

/** How near a gate is: clean passes in a row (in own time: without a wrong key), of how many. */
export interface GateStand { inARow: number, of: number, isOwnTime: boolean }

/** The gate of what is played: a hard place that is being mended, or a whole part or join. Undefined where there is none. */
export function gateOf({ grounds }: SongPlan, standing: SongStanding, stretch: Stretch, hands: Hands, isOwnTime: boolean): GateStand | undefined {
  for (const [key, ground] of grounds) {
    if (ground.hands !== hands) continue
    const { phase, spot, ownTime, adaptive, ladder } = standing.get(key)!
    if (phase === 'spot' && spot && isSameStretch(spot.loop, stretch)) return { inARow: spot.inARow, of: isOwnTime ? MENDING.ownTimeGate : Math.min(ground.settings.gate, MENDING.mostInARow), isOwnTime }
    if (!isSameStretch(ground.stretch, stretch)) continue
    return isOwnTime
      ? { inARow: ownTime.inARow, of: Math.max(1, ground.settings.ownTimeGate), isOwnTime }
      : { inARow: adaptive ? adaptive.inARow : ladder.inARow, of: ground.settings.gate, isOwnTime }
  }
  return undefined
}
