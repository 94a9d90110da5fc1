import { tappedBeats } from '#core/music/tapped'

/** More taps than this say nothing new. */
const MAX_TAPS = 12

/** A tempo that is tapped: from the second tap on, its beats a minute are told. */
export function useTappedTempo(told: (beats: number) => void, nowMs = () => performance.now()): { tap: () => void } {
  let taps: number[] = []
  return {
    tap() {
      taps = [...taps, nowMs()].slice(-MAX_TAPS)
      const beats = tappedBeats(taps)
      if (beats !== undefined) told(Math.round(beats))
    },
  }
}
