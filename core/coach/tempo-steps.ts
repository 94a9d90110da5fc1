/** How the way from the first tempo to the target is cut into steps (common practice: begin well below, tempo comes last). */
export const TEMPO_STEPS = {
  /** The first step as a share of the target tempo, where nothing better is known. */
  startShare: 0.6,
  steps: 5,
  /** Steps there are below the start, for what does not go yet: the last one is half the starting tempo. */
  below: 2,
  slowestShare: 0.5,
} as const

/** The tempo steps of a part, slowest first, in whole quarter notes a minute; the last is the target. */
export function tempoSteps(targetBpm: number, startBpm: number = targetBpm * TEMPO_STEPS.startShare, steps: number = TEMPO_STEPS.steps): number[] {
  return Array.from({ length: steps }, (_, step) =>
    Math.round(startBpm + (targetBpm - startBpm) * step / (steps - 1)))
}

/** The same with the slower steps below the start that only help is sought on; `start` is the index of the starting tempo. */
export function stepsWithSlower(targetBpm: number, startBpm: number, steps: number): { steps: number[], start: number } {
  const { below, slowestShare } = TEMPO_STEPS
  const slower = Array.from({ length: below }, (_, index) => Math.round(startBpm * (slowestShare + (1 - slowestShare) * index / below)))
  return { steps: [...slower, ...tempoSteps(targetBpm, startBpm, steps)], start: below }
}
