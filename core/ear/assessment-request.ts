import { roundTo } from './statistics'
import { barAt, type Arrangement } from '../music/arrangement'
import { beatBpm, isCompound } from '../music/meter'
import type { Passage } from '../music/passage'
import type { Mode } from './assessment'
import type { Strictness } from './parameters'
import type { Take } from './take'

/** What a take is judged against: the passage and how it was played. */
export interface AssessmentRequest {
  arrangement: Arrangement
  passage: Passage
  take: Take
  mode: Mode
  bpm?: number
  /** A known constant delay of the keyboard, ms, taken off every played time. */
  offsetMs?: number
  strictness?: Strictness
}

/** The tempo in quarter notes a minute, and in felt beats where these are dotted. */
export function tempoFields(
  arrangement: Arrangement,
  passage: Passage,
  bpm: number,
): { bpm: number; beatBpm?: number } {
  const { meter } = barAt(arrangement, passage.stretches[0]!.from)
  return { bpm: roundTo(bpm, 2), ...(isCompound(meter) ? { beatBpm: roundTo(beatBpm(meter, bpm), 2) } : {}) }
}
