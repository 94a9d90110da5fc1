/** What opens a gate: a number of clean passes in a row, or enough evidence that it was no luck. */
export type Gate = number | 'sure'

/** Evidence from the passes at one tempo, the newest weighing most: weights of clean and failed passes. */
export interface Evidence {
  clean: number
  failed: number
}

/** Own choice, except the rule itself (`cleanProbability`). */
export const EVIDENCE = {
  /** The smallest probability that the next pass is clean. */
  sureAt: 0.63,
  /** An older pass counts half of the next newer one: the player is learning. */
  fades: 0.5,
  /** The weight of one pass as a failure: one slip says little. */
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
 * The probability that the next pass is clean, by Laplace's rule of succession (Laplace 1814, Essai philosophique sur
 * les probabilités; unchecked).
 */
export const cleanProbability = ({ clean, failed }: Evidence): number => (clean + 1) / (clean + failed + 2)

/**
 * Whether it was no luck. A first clean pass is enough, also after a single slip; after misses it takes two in a row,
 * after many three.
 */
export const isSure = (evidence: Evidence): boolean => cleanProbability(evidence) >= EVIDENCE.sureAt

/** Clean passes in a row that a gate still asks for after `inARow` of them; 0 when it is open. */
export const passesStillNeeded = (gate: Gate, inARow: number, evidence: Evidence): number =>
  gate !== 'sure' ? Math.max(0, gate - inARow) : isSure(evidence) ? 0 : cleanStillNeeded(evidence)

/** Clean passes in a row still needed to be sure: at least one. */
export function cleanStillNeeded(evidence: Evidence): number {
  let now = afterResult(evidence, 'clean')
  let needed = 1
  for (; !isSure(now); needed++) now = afterResult(now, 'clean')
  return needed
}

export type PassResult = 'clean' | 'near' | 'missed'
