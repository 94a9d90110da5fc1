import type { StandPart } from './practised'
import { inject, provide, type ComputedRef, type InjectionKey, type Ref } from 'vue'
import type { Meter } from '#core/music/meter'
import type { useOwnPart } from '../workbench/useOwnPart'
import type { useMarkedBars } from './useMarkedBars'
import type { useStandPractice } from './useStandPractice'

/** What the components of the Stand share: practice, what is shown, and what can be asked for. */
export interface StandContext {
  part: StandPart
  practice: ReturnType<typeof useStandPractice>
  marked: ReturnType<typeof useMarkedBars>
  ownPart: ReturnType<typeof useOwnPart>
  /** Nothing is being practised. */
  stopped: ComputedRef<boolean>
  /** Tempos are shown in the beats of this meter. */
  meter: ComputedRef<Meter>
  showsKeys: Readonly<Ref<boolean>>
  showsSong: Ref<boolean>
  isHelpOpen: Ref<boolean>
  toggleKeys: () => void
  toggleFullscreen: () => void
  tap: () => void
  /** Changes the tempo by steps of the Stand. */
  stepTempo: (steps: number) => void
}

const STAND: InjectionKey<StandContext> = Symbol('stand')

export const provideStand = (context: StandContext): void => provide(STAND, context)

/** The Stand that a component is part of. Throws outside of one. */
export function useStand(): StandContext {
  const context = inject(STAND)
  if (!context) throw new Error('a component of the Stand was used outside of it')
  return context
}
