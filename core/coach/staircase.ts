/**
 * The transformed up-down method (Levitt 1971, Transformed up-down methods in psychoacoustics, J. Acoust. Soc. Am. 49):
 * a number of successes in a row makes it harder by a step, one failure makes it easier. It converges where that many
 * successes in a row are as likely as not: 50 % for one, 70.7 % for two, 79.4 % for three, 84.1 % for four.
 */
export interface StaircaseRule {
  /** Successes in a row before the next step up. */
  successes: number
  /**
   * The size of a step, in the unit of the level, until the first reversal, and after each reversal; the last one
   * stays.
   */
  steps: readonly number[]
  lowest: number
  highest: number
}

export interface StaircaseState {
  level: number
  inARow: number
  /** The direction of the last change; undefined before the first. */
  way?: 'up' | 'down'
  /** Levels at which the direction reversed. */
  reversals: readonly number[]
}

export const startStaircase = (level: number): StaircaseState => ({ level, inARow: 0, reversals: [] })

/** The state after one trial: a higher level is harder. */
export function stepStaircase(rule: StaircaseRule, state: StaircaseState, success: boolean): StaircaseState {
  const inARow = success ? state.inARow + 1 : 0
  if (success && inARow < rule.successes) return { ...state, inARow }
  const way = success ? 'up' : 'down'
  const turned = state.way !== undefined && state.way !== way
  const reversals = turned ? [...state.reversals, state.level] : state.reversals
  const size = rule.steps[Math.min(reversals.length, rule.steps.length - 1)] ?? 0
  const level = Math.min(rule.highest, Math.max(rule.lowest, state.level + (success ? size : -size)))
  return { level, inARow: 0, way, reversals }
}

/** Where a rule converges: the share of successes at which going up is as likely as going down. */
export const settlesAt = (successes: number): number => 0.5 ** (1 / successes)
