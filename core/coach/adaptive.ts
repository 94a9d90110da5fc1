import type { LadderHelp } from './reason'
import { afterResult, NO_EVIDENCE, passesStillNeeded, type Evidence, type Gate, type PassResult } from './evidence'
import type { LadderDecision } from './ladder'
import { LADDER } from './ladder'
import { startStaircase, stepStaircase, type StaircaseState } from './staircase'

/**
 * The staircase over tempos (Levitt 1971): two clean in a row go up, one miss comes down, by smaller steps after each
 * reversal.
 */
export const ADAPTIVE = {
  successes: 2,
  /** Steps as shares of the target tempo. */
  stepShares: [0.1, 0.06, 0.03] as readonly number[],
  /** After this many reversals without a new best, something else is tried. */
  turnsBeforeHelp: 6,
} as const

export interface AdaptiveRule {
  gate: Gate
  targetBpm: number
  slowestBpm: number
  helps?: readonly LadderHelp[]
}

export interface AdaptiveState {
  staircase: StaircaseState
  /** Clean passes in a row at this tempo. */
  inARow: number
  bestBpm: number
  turnsAtBest: number
  /** Passes in a row that were nearly clean. */
  nears: number
  /** The evidence of the passes at this tempo. */
  evidence: Evidence
  helped: number
}

export const startAdaptive = (bpm: number): AdaptiveState => ({
  staircase: startStaircase(bpm),
  inARow: 0,
  bestBpm: 0,
  turnsAtBest: 0,
  nears: 0,
  evidence: NO_EVIDENCE,
  helped: 0,
})

/** The state after a pass, and why. A nearly clean pass goes neither up nor down, but many in a row do. */
export function climbAdaptive(
  { gate, targetBpm, slowestBpm, helps = LADDER.helps.one }: AdaptiveRule,
  state: AdaptiveState,
  result: PassResult,
): Omit<LadderDecision, 'state'> & { state: AdaptiveState } {
  const { staircase } = state
  const bpm = staircase.level
  const evidence = afterResult(state.evidence, result)
  const nears = result === 'near' ? state.nears + 1 : 0
  if (result === 'near' && nears < LADDER.uncleanBeforeDown)
    return {
      state: { ...state, nears, evidence, inARow: 0, staircase: { ...staircase, inARow: 0 } },
      move: 'again',
      bpm,
      because: { kind: 'near' },
    }
  const isClean = result === 'clean'
  const inARow = isClean ? state.inARow + 1 : 0
  if (isClean && bpm >= targetBpm) {
    const needed = passesStillNeeded(gate, inARow, evidence)
    return {
      state: { ...state, inARow, evidence, bestBpm: bpm },
      move: needed === 0 ? 'top' : 'again',
      bpm,
      because:
        needed === 0 ? { kind: 'gate-top', of: inARow } : { kind: 'in-a-row', count: inARow, of: inARow + needed },
    }
  }
  const next = stepStaircase(
    {
      successes: ADAPTIVE.successes,
      steps: ADAPTIVE.stepShares.map(share => share * targetBpm),
      lowest: slowestBpm,
      highest: targetBpm,
    },
    staircase,
    isClean,
  )
  const isBest = isClean && next.level > bpm && bpm > state.bestBpm
  const turned = next.reversals.length - staircase.reversals.length
  const after: AdaptiveState = {
    ...state,
    nears: 0,
    evidence: next.level === bpm ? evidence : NO_EVIDENCE,
    staircase: next,
    inARow: next.level === bpm ? inARow : 0,
    bestBpm: isBest ? bpm : state.bestBpm,
    turnsAtBest: isBest ? 0 : state.turnsAtBest + turned,
    helped: isBest ? 0 : state.helped,
  }
  const isStuck = after.turnsAtBest >= ADAPTIVE.turnsBeforeHelp || (!isClean && bpm <= slowestBpm)
  if (isStuck) {
    const help = helps[Math.min(after.helped, helps.length - 1)]!
    return {
      state: { ...after, turnsAtBest: 0, helped: after.helped + 1 },
      move: 'help',
      bpm: next.level,
      help,
      because: { kind: 'to-and-fro', bpm },
    }
  }
  if (next.level === bpm)
    return { state: after, move: 'again', bpm, because: { kind: isClean ? 'clean-once-more' : 'once-more' } }
  const up = next.level > bpm
  return {
    state: after,
    move: up ? 'up' : 'down',
    bpm: next.level,
    because: { kind: up ? 'clean-up' : 'unclean-down', from: bpm, to: next.level },
  }
}
