import type { Hand } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { usePreviewSound } from './usePreviewSound'
import { usePatternsWorker } from '../songs/usePatternsWorker'

/** Four chords that many songs are made of. */
const DEGREES = ['I', 'vi', 'IV', 'V7']

/**
 * Plays a pattern over a turn of four chords, the other hand holding them. `key` tells patterns of the same name apart.
 */
export function useHearPattern() {
  const hearing = usePreviewSound()
  const toggle = (
    key: string,
    pattern: HandPattern,
    meter: Meter,
    { bpm, hand, reach }: { bpm: number; hand: Hand; reach: number },
  ) =>
    hearing.toggle(
      key,
      async () =>
        await usePatternsWorker().drill(
          {
            title: '',
            material: { kind: 'progression', degrees: DEGREES },
            patterns: { [hand]: pattern },
            keys: { order: 'one' },
            meter: { ...meter },
            bpm,
          },
          reach,
        ),
    )
  return { ...hearing, toggle }
}
