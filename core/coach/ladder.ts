import {
  afterResult,
  EVIDENCE,
  NO_EVIDENCE,
  passesStillNeeded,
  type Evidence,
  type Gate,
  type PassResult,
} from './evidence'
import type { Reason, LadderHelp } from './reason'

/**
 * The tempo ladder of a part and hand: up when the gate is met, down after misses, and never stuck. Pure: the state
 * after a pass follows from the state before it and the pass.
 */
export interface LadderRule {
  /** What opens the gate to the next step. */
  gate: Gate
  /** Tempos, slowest first, quarter notes a minute; the last is the target. */
  steps: readonly number[]
  /** What may change when a step is fallen from repeatedly, in the order tried; the last one stays. */
  helps?: readonly LadderHelp[]
}

/** Own choice around common practice: right notes first, tempo last, four to five in a row for most players. */
export const LADDER = {
  /** Passes in a row that were neither clean nor nearly so, before a step down. */
  missesBeforeDown: 2,
  /** Passes in a row, missed or nearly clean, without a clean one before a step down. */
  uncleanBeforeDown: 6,
  /** Falls from one step before something else is changed. */
  fallsBeforeHelp: 3,
  /** A pass with this share of the notes right, or all but one, is a slip and no reason to go down. */
  nearlyRight: 0.95,
  /** Steps gained at once where nothing was missed: the player can do more. */
  easySteps: 2,
  helps: { one: ['smaller-loop', 'slower', 'own-time'], both: ['smaller-loop', 'one-hand', 'slower', 'own-time'] },
  /** Steps down when "slower" is chosen. */
  slowerSteps: 2,
} as const satisfies Record<string, unknown> & { helps: Record<string, readonly LadderHelp[]> }

export interface LadderState {
  step: number
  /**
   * The first passes only look for the starting tempo: a clean one goes up at once. Used where passes are counted, not
   * in slow-first practice.
   */
  probing?: boolean
  /** Clean passes in a row at this step. */
  inARow: number
  /** Passes in a row that missed. */
  misses: number
  /** Passes in a row that were not clean. */
  unclean: number
  /** The evidence of the passes at this step. */
  evidence: Evidence
  /** Falls from each step since it was last passed. */
  falls: Readonly<Record<number, number>>
  /** Kinds of help tried at each step since it was last passed. */
  helped: Readonly<Record<number, number>>
}

export type LadderMove = 'again' | 'up' | 'down' | 'help' | 'top'
export interface LadderDecision {
  state: LadderState
  move: LadderMove
  bpm: number
  help?: LadderHelp
  because: Reason
}

export const startLadder = (step = 0, probing = false): LadderState => ({
  step,
  inARow: 0,
  misses: 0,
  unclean: 0,
  evidence: NO_EVIDENCE,
  falls: {},
  helped: {},
  ...(probing ? { probing } : {}),
})

/** The result of a pass, for the ladder. */
export const resultOf = ({ clean, right, notes }: { clean: boolean; right: number; notes: number }): PassResult =>
  clean ? 'clean' : notes > 0 && (right / notes >= LADDER.nearlyRight || notes - right <= 1) ? 'near' : 'missed'

/** The state after a pass, and why. */
export function climb(
  { gate, steps, helps = LADDER.helps.one }: LadderRule,
  { probing, ...state }: LadderState,
  result: PassResult,
): LadderDecision {
  const bpm = (step: number) => steps[step]!
  const evidence = afterResult(state.evidence, result)
  const at = (next: Partial<LadderState>, move: LadderMove, because: Reason, help?: LadderHelp): LadderDecision => {
    const after = {
      ...state,
      evidence: next.step === undefined || next.step === state.step ? evidence : NO_EVIDENCE,
      ...next,
    }
    return { state: after, move, bpm: bpm(after.step), because, ...(help ? { help } : {}) }
  }
  const top = steps.length - 1
  if (probing && gate !== 'sure' && result === 'clean' && state.step < top) {
    return at({ step: state.step + 1, probing }, 'up', { kind: 'probe-up', bpm: bpm(state.step + 1) })
  }
  if (result === 'clean') {
    const inARow = state.inARow + 1
    const needed = passesStillNeeded(gate, inARow, evidence)
    if (needed > 0)
      return at({ inARow, misses: 0, unclean: 0 }, 'again', { kind: 'in-a-row', count: inARow, of: inARow + needed })
    const { [state.step]: _passed, ...falls } = state.falls
    const { [state.step]: _tried, ...helped } = state.helped
    if (state.step === top)
      return at({ inARow, misses: 0, unclean: 0, falls, helped }, 'top', { kind: 'gate-top', of: inARow })
    // Easy: no miss here, and nothing ahead was ever fallen from.
    const isEasy =
      gate === 'sure' &&
      evidence.failed < EVIDENCE.weighs.near &&
      Object.keys(falls).every(fallen => Number(fallen) > state.step + LADDER.easySteps)
    const step = Math.min(top, state.step + (isEasy ? LADDER.easySteps : 1))
    return at(
      { step, inARow: 0, misses: 0, unclean: 0, falls, helped },
      'up',
      inARow === 1 && state.evidence.failed === 0 && state.evidence.clean === 0 && gate === 'sure'
        ? { kind: 'first-go', from: bpm(state.step), to: bpm(step) }
        : { kind: 'gate-up', of: inARow, from: bpm(state.step), to: bpm(step) },
    )
  }
  const unclean = state.unclean + 1
  const misses = result === 'near' ? 0 : state.misses + 1
  if (misses < LADDER.missesBeforeDown && unclean < LADDER.uncleanBeforeDown)
    return at({ inARow: 0, misses, unclean }, 'again', { kind: result === 'near' ? 'near' : 'once-more' })
  const fallen = (state.falls[state.step] ?? 0) + 1
  const falls = { ...state.falls, [state.step]: fallen }
  if (fallen >= LADDER.fallsBeforeHelp || (state.step === 0 && fallen > 1)) {
    const tried = state.helped[state.step] ?? 0
    const help = helps[Math.min(tried, helps.length - 1)]!
    const step = help === 'slower' ? Math.max(0, state.step - LADDER.slowerSteps) : state.step
    return at(
      {
        step,
        inARow: 0,
        misses: 0,
        unclean: 0,
        falls: { ...falls, [state.step]: 0 },
        helped: { ...state.helped, [state.step]: tried + 1 },
      },
      'help',
      { kind: 'help', help },
      help,
    )
  }
  if (state.step === 0) return at({ inARow: 0, misses: 0, unclean: 0, falls }, 'again', { kind: 'slowest-step' })
  return at({ step: state.step - 1, inARow: 0, misses: 0, unclean: 0, falls }, 'down', {
    kind: 'down',
    passes: unclean,
    from: bpm(state.step),
    to: bpm(state.step - 1),
  })
}
