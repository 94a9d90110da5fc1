import type { PassResult } from './ladder'

/**
 * When the coach is sure: after so many clean passes in a row, as the player wishes, or when what was played says that
 * it was no luck.
 */
export type Gate = number | 'sure'

/**
 * What the passes at one tempo say, the newest counting most: weights of the clean and of the failed ones.
 */
export interface Evidence {
  clean: number
  failed: number
}

/** Own choice, but for the rule itself (`chanceOfClean`). */
export const EVIDENCE = {
  /** The next pass must be expected to be clean with at least this chance. */
  sureAt: 0.63,
  /** What is older counts half of what came after it: the player is learning. */
  fades: 0.5,
  /** What one pass weighs as a failure: one slip says little against it. */
  weighs: { near: 0.25, missed: 1 },
} as const

export const NO_EVIDENCE: Evidence = { clean: 0, failed: 0 }

export function afterResult({ clean, failed }: Evidence, result: PassResult): Evidence {
  const { fades, weighs } = EVIDENCE
  return result === 'clean'
    ? { clean: clean * fades + 1, failed: failed * fades }
    : { clean: clean * fades, failed: failed * fades + weighs[result] }
}

/**
 * How likely the next pass is clean, by Laplace's rule of succession (Laplace 1814, Essai philosophique sur les
 * probabilités; from memory).
 */
export const chanceOfClean = ({ clean, failed }: Evidence): number => (clean + 1) / (clean + failed + 2)

/**
 * Whether it was no luck. A first pass that is clean is enough, and one after a single slip; after misses it takes two
 * in a row, after many three.
 */
export const isSure = (evidence: Evidence): boolean => chanceOfClean(evidence) >= EVIDENCE.sureAt

/** How many more clean passes in a row a gate asks for, after `inARow` of them; 0 when it is open. */
export const stillNeeded = (gate: Gate, inARow: number, evidence: Evidence): number =>
  gate !== 'sure' ? Math.max(0, gate - inARow) : isSure(evidence) ? 0 : cleanStillNeeded(evidence)

/** Clean passes in a row that are still needed to be sure: at least one. */
export function cleanStillNeeded(evidence: Evidence): number {
  let now = afterResult(evidence, 'clean')
  let needed = 1
  for (; !isSure(now); needed++) now = afterResult(now, 'clean')
  return needed
}
