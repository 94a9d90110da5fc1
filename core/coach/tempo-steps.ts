/** How the way from the first tempo to the target is cut into steps (common practice: begin well below, tempo comes last). */
export const TEMPO_STEPS = {
  /** The first step as a share of the target tempo. */
  startShare: 0.6,
  steps: 5,
} as const

/** The tempo steps of a part, slowest first, in whole quarter notes a minute; the last is the target. */
export function tempoSteps(targetBpm: number): number[] {
  const { startShare, steps } = TEMPO_STEPS
  return Array.from({ length: steps }, (_, step) =>
    Math.round(targetBpm * (startShare + (1 - startShare) * step / (steps - 1))))
}
