import { SLOWEST_BEAT } from '../music/meter'

/**
 * How the way from the first tempo to the target is divided into steps (common practice: begin well below, tempo comes
 * last).
 */
export const TEMPO_STEPS = {
  /** The first step as a share of the target tempo, where nothing better is known. */
  startShare: 0.6,
  steps: 5,
  /** Steps below the start for what does not succeed yet: the last one is half the starting tempo. */
  below: 2,
  slowestShare: 0.5,
} as const

/**
 * The tempo steps of a part, slowest first, in whole beats a minute, given as quarter notes a minute; the last is the
 * target.
 */
export function tempoSteps(
  targetBpm: number,
  startBpm: number = targetBpm * TEMPO_STEPS.startShare,
  steps: number = TEMPO_STEPS.steps,
  beatQuarters = 1,
): number[] {
  return Array.from({ length: steps }, (_, step) =>
    step === steps - 1
      ? Math.round(targetBpm)
      : inWholeBeats(startBpm + ((targetBpm - startBpm) * step) / (steps - 1), beatQuarters),
  )
}

/** A tempo in quarter notes a minute, rounded so that its beats are whole. */
export const inWholeBeats = (quarterBpm: number, beatQuarters: number): number =>
  Math.round(quarterBpm / beatQuarters) * beatQuarters

/**
 * The same with the slower steps below the start, used only for help; `start` is the index of the starting tempo. The
 * start is no slower than a beat can be carried; the slower steps go down as far as its halves can be.
 */
export function stepsWithSlower(
  targetBpm: number,
  startBpm: number,
  steps: number,
  beatQuarters = 1,
): { steps: number[]; start: number } {
  const { below, slowestShare } = TEMPO_STEPS
  const begins = Math.min(targetBpm, Math.max(startBpm, SLOWEST_BEAT * beatQuarters))
  const least = Math.min(begins, (SLOWEST_BEAT * beatQuarters) / 2)
  const slower = Array.from({ length: below }, (_, index) =>
    inWholeBeats(Math.max(least, begins * (slowestShare + ((1 - slowestShare) * index) / below)), beatQuarters),
  )
  return { steps: [...slower, ...tempoSteps(targetBpm, begins, steps, beatQuarters)], start: below }
}
