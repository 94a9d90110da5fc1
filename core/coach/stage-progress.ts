import { barAt, type Arrangement, type Hand, type Hands } from '../music/arrangement'
import { beatLength, tempoBeatQuarters } from '../music/meter'
import { isSameSpan, type ScoreSpan } from '../music/passage'
import { add, compare, subtract, toDecimal, type Quarters } from '../music/quarters'
import { climbAdaptive, startAdaptive, type AdaptiveState } from './adaptive'
import { findHardSpots, growLoop, HARD_SPOT, hardestEvent, type HardSpot, type PassTrace } from './hard-spots'
import { NO_EVIDENCE } from './evidence'
import { climb, LADDER, resultOf, startLadder, type LadderState } from './ladder'
import { eventOnsets, type PastPass } from './pass'
import type { Reason, LadderHelp } from './reason'
import { isSlowFirst, type CoachSettings } from './settings'
import { stepsWithSlower } from './tempo-steps'

/** What is practised and at which tempos: the notes of a span with one hand or both. */
export interface ScoreRange {
  arrangement: Arrangement
  stretch: ScoreSpan
  hands: Hands
  key: string
  targetBpm: number
  /** The tempos, including the slower ones only used for help; the first pass is at `steps[start]`. */
  steps: readonly number[]
  start: number
  /** The onsets to be struck, in order. */
  onsets: readonly Quarters[]
  /**
   * Whether passes of places within it count for it: for a part, not for a join, whose parts have their own progress.
   */
  hearsWithin: boolean
  /** In a long run a slip is forgiven: a nearly clean pass opens the gate. */
  isForgiving: boolean
  /** Whether it may begin in the player's own time: not where each hand has found its keys before. */
  mayBeginInOwnTime: boolean
  settings: CoachSettings
}

/** A hard spot being mended. */
export interface SpotState extends HardSpot {
  mode: 'own-time' | 'steady'
  bpm: number
  inARow: number
  misses: number
  passes: number
}

/**
 * The player's progress with one hand (or both) in one span. Follows from the passes alone: the state after a pass is a
 * function of the state before it and the pass, whoever chose it.
 */
export interface StageProgress {
  phase: 'own-time' | 'tempo' | 'spot'
  /** `unclean`: passes in a row there with a wrong key. */
  ownTime: { inARow: number; isDone: boolean; unclean?: number }
  ladder: LadderState
  adaptive?: AdaptiveState
  /** The fastest tempo whose gate was met, and the fastest clean pass; 0 for none. */
  reachedBpm: number
  cleanBpm: number
  /** When the last gate opened, ms since 1970. */
  reachedAtMs?: number
  traces: readonly PassTrace[]
  spot?: SpotState
  /** Spots that were hard, newest last. */
  mended: readonly { first: Quarters; last: Quarters; atMs: number }[]
  /** Each hand is to be played alone once more: the tries each has left; 0 when it was clean. */
  oneHand?: Readonly<Record<Hand, number>>
  passes: number
  /** The gates that opened, when (ms since 1970), and how many passes each took, including passes of places within. */
  gates: readonly { bpm: number; passes: number; atMs: number }[]
  /** Passes since a gate last opened, including passes of places within. */
  sinceGate: number
  /** Hard spots mended since then: one that keeps returning is not cured by mending. */
  mendedSinceGate: number
  /** The newest whole passes since a gate opened. */
  lately: readonly { bpm: number; right: number; notes: number; clean: boolean }[]
  lastAtMs?: number
  /** Why the next pass is what it is. */
  because: Reason
}

/** How a spot is mended (own choice within common practice: small, slow, soon back into the whole). */
export const MENDING = {
  /** The most passes a spot is drilled for, and the clean ones in a row asked for at one size. */
  mostPasses: 12,
  mostInARow: 3,
  sureInARow: 2,
  /**
   * After this many misses in a row the tempo falls by this share, down to this share of the starting tempo; then own
   * time.
   */
  missesBeforeSlower: 2,
  slowerBy: 0.2,
  slowestShare: 0.5,
  /** Clean passes in own time before the click comes back. */
  ownTimeGate: 2,
  /** After this many mendings without a gate the whole is practised, until the gate opens or is good enough. */
  mostSinceGate: 3,
  /** The most tries of each hand alone once more. */
  oneHandTries: 3,
  /**
   * The largest loop, as a share of the part, that counts as smaller: two bars are small enough as they are. And the
   * share when nothing else has helped.
   */
  mostShare: 0.34,
  askedShare: 0.6,
  /** The smallest loop in beats: the event's own beat, one before and one after. */
  fewestBeats: 3,
} as const

/** When a tempo nearly reached is accepted, so that nothing waits for ever for clean passes in a row (own choice). */
export const GOOD_ENOUGH = { passes: 20, lately: 6, rightShare: 0.96 } as const

export function scoreRange(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  hands: Hands,
  key: string,
  tempos: { targetBpm: number; startBpm: number },
  settings: CoachSettings,
  { isForgiving = false, hearsWithin = true, mayBeginInOwnTime = true } = {},
): ScoreRange {
  const { steps, start } = stepsWithSlower(
    tempos.targetBpm,
    tempos.startBpm,
    settings.steps,
    tempoBeatQuarters(barAt(arrangement, stretch.from).meter),
  )
  return {
    arrangement,
    stretch,
    hands,
    key,
    targetBpm: tempos.targetBpm,
    steps,
    start,
    onsets: eventOnsets(arrangement, stretch, hands),
    hearsWithin,
    isForgiving,
    mayBeginInOwnTime,
    settings,
  }
}

/** Clean passes in a row that let a hard place grow. */
export const spotGate = ({ gate }: CoachSettings): number =>
  gate === 'sure' ? MENDING.sureInARow : Math.min(gate, MENDING.mostInARow)

export function startStage({ settings, steps, start, mayBeginInOwnTime }: ScoreRange): StageProgress {
  const begins = settings.ownTimeGate > 0 && mayBeginInOwnTime
  return {
    phase: begins ? 'own-time' : 'tempo',
    ownTime: { inARow: 0, isDone: settings.ownTimeGate === 0 },
    ladder: startLadder(start, !isSlowFirst(settings)),
    ...(settings.tempo === 'adaptive' ? { adaptive: startAdaptive(steps[start]!) } : {}),
    reachedBpm: 0,
    cleanBpm: 0,
    traces: [],
    mended: [],
    passes: 0,
    gates: [],
    sinceGate: 0,
    mendedSinceGate: 0,
    lately: [],
    because: begins ? { kind: 'own-time-first' } : { kind: 'start-tempo', bpm: steps[start]! },
  }
}

/** What a stage asks for next. */
export interface StagePass {
  stretch: ScoreSpan
  isSpot: boolean
  mode: 'own-time' | 'steady'
  bpm: number
  because: Reason
}

export function nextPassOf(range: ScoreRange, state: StageProgress): StagePass {
  const { spot, because } = state
  if (state.phase === 'spot' && spot)
    return { stretch: spot.loop, isSpot: true, mode: spot.mode, bpm: Math.round(spot.bpm), because }
  return {
    stretch: range.stretch,
    isSpot: false,
    mode: state.phase === 'own-time' ? 'own-time' : 'steady',
    bpm: tempoOf(range, state),
    because,
  }
}

export const tempoOf = ({ steps }: ScoreRange, { adaptive, ladder }: StageProgress): number =>
  adaptive ? Math.round(adaptive.staircase.level) : steps[ladder.step]!

/** The state after a pass of these notes, of a place within them, or of their twin. Other passes leave it unchanged. */
export function afterPass(range: ScoreRange, state: StageProgress, pass: PastPass): StageProgress {
  const isWhole = pass.key === range.key
  const { spot } = state
  const isSpot =
    state.phase === 'spot' && spot !== undefined && pass.hands === range.hands && isSameSpan(spot.loop, pass.stretch)
  if (!isWhole && !isSpot && !state.oneHand && !(range.hearsWithin && pass.hands === range.hands)) return state
  const shift = isWhole ? subtract(range.stretch.from, pass.stretch.from) : { n: 0, d: 1 }
  const liesInside =
    compare(pass.stretch.from, range.stretch.from) >= 0 && compare(pass.stretch.to, range.stretch.to) <= 0
  if (state.oneHand && pass.hands !== 'both' && liesInside)
    return { ...afterOneHand(state, state.oneHand, pass.hands, pass.clean), lastAtMs: pass.atMs }
  if (!isWhole && !isSpot && !(range.hearsWithin && pass.hands === range.hands && liesInside)) return state
  const trace = traceOf(pass, shift)
  const seen: StageProgress = {
    ...state,
    sinceGate: state.sinceGate + 1,
    traces: [...state.traces, trace].slice(-HARD_SPOT.newest),
    lastAtMs: pass.atMs,
  }
  if (isSpot) return afterSpotPass(range, seen, spot, pass)
  if (!isWhole && pass.isOwnSpot) return afterSpotPass(range, { ...seen, phase: 'spot' }, ownSpot(range, pass), pass)
  if (!isWhole) return seen
  const counted = { ...seen, passes: state.passes + 1 }
  return pass.mode === 'own-time' ? afterOwnTime(range, counted, pass) : afterSteady(range, counted, pass)
}

/** A place that the player calls hard, mended as it is played. */
function ownSpot({ onsets }: ScoreRange, { stretch, mode, bpm }: PastPass): SpotState {
  const inside = onsets.filter(at => compare(at, stretch.from) >= 0 && compare(at, stretch.to) < 0)
  return {
    first: inside[0] ?? stretch.from,
    last: inside.at(-1) ?? stretch.from,
    loop: stretch,
    failures: 0,
    passes: 0,
    mode,
    bpm,
    inARow: 0,
    misses: 0,
  }
}

function afterOneHand(
  state: StageProgress,
  tries: Readonly<Record<Hand, number>>,
  hand: Hand,
  isClean: boolean,
): StageProgress {
  const left = { ...tries, [hand]: isClean ? 0 : Math.max(0, tries[hand] - 1) }
  return { ...state, oneHand: left.right + left.left > 0 ? left : undefined }
}

/** The pass moved into this range, if it was of a twin. */
const traceOf = ({ stretch, failed }: PastPass, shift: Quarters): PassTrace =>
  shift.n === 0
    ? { stretch, failed }
    : {
        stretch: { from: add(stretch.from, shift), to: add(stretch.to, shift) },
        failed: failed.map(place => add(place, shift)),
      }

/**
 * Passes in a row with a wrong key in own time before something else changes; a single wrong key is then no reason to
 * stay.
 */
const OWN_TIME_TRIES = 4
/** The share of events with a wrong key at which the keys are nearly known. */
const NEARLY_KNOWN = 0.05

function afterOwnTime(range: ScoreRange, state: StageProgress, pass: PastPass): StageProgress {
  const gate = Math.max(1, range.settings.ownTimeGate)
  const inARow = pass.clean ? state.ownTime.inARow + 1 : 0
  const unclean = pass.clean ? 0 : (state.ownTime.unclean ?? 0) + 1
  const known: StageProgress = {
    ...state,
    phase: 'tempo',
    ownTime: { inARow: 0, isDone: true },
    because: { kind: 'keys-known' },
  }
  if (inARow >= gate) return known
  const again: StageProgress = {
    ...state,
    phase: state.phase === 'tempo' ? 'tempo' : 'own-time',
    ownTime: { inARow, isDone: state.ownTime.isDone, unclean },
    because: pass.clean ? { kind: 'no-wrong-key', count: inARow, of: gate } : { kind: 'own-time-once-more' },
  }
  if (unclean < OWN_TIME_TRIES) return again
  if (pass.failed.length <= Math.max(1, NEARLY_KNOWN * range.onsets.length))
    return { ...known, because: { kind: 'keys-nearly-known' } }
  const anew = { ...again, ownTime: { inARow: 0, isDone: state.ownTime.isDone } }
  if (range.hands === 'both') return { ...anew, oneHand: { right: MENDING.oneHandTries, left: MENDING.oneHandTries } }
  const spot = spotIn(range, anew.traces, true)
  return spot
    ? {
        ...anew,
        phase: 'spot',
        spot: { ...spot, mode: 'own-time', bpm: tempoOf(range, anew), inARow: 0, misses: 0, passes: 0 },
        because: { kind: 'spot', failures: spot.failures, passes: spot.passes },
      }
    : anew
}

/** A long run is nearly clean with failures in at most this share of its events, or in one (own choice). */
const FORGIVEN = { share: 0.03 } as const

const NEARLY = new Set<Reason['kind']>(['in-a-row', 'first-go', 'gate-top', 'gate-up'])
/** The reason given when a nearly clean run has opened a gate. */
const nearly = (because: Reason): Reason =>
  NEARLY.has(because.kind) ? ({ ...because, isNearly: true } as Reason) : because

function afterSteady(range: ScoreRange, state: StageProgress, pass: PastPass): StageProgress {
  const heard = resultOf(pass)
  const isForgiven =
    range.isForgiving && heard === 'near' && pass.failed.length <= Math.max(1, FORGIVEN.share * range.onsets.length)
  const result = isForgiven ? 'clean' : heard
  const base: StageProgress = {
    ...state,
    phase: 'tempo',
    spot: undefined,
    ownTime: { inARow: 0, isDone: state.ownTime.isDone || heard !== 'missed' },
    cleanBpm: pass.clean ? Math.max(state.cleanBpm, pass.bpm) : state.cleanBpm,
  }
  const { settings, steps, targetBpm } = range
  base.lately = [...state.lately, { bpm: pass.bpm, right: pass.right, notes: pass.notes, clean: pass.clean }].slice(
    -GOOD_ENOUGH.passes,
  )
  const helps = availableHelps(range)
  let after: StageProgress
  let help: LadderHelp | undefined
  if (base.adaptive) {
    const played =
      Math.abs(base.adaptive.staircase.level - pass.bpm) < 1.5
        ? base.adaptive
        : {
            ...base.adaptive,
            staircase: { ...base.adaptive.staircase, level: pass.bpm, inARow: 0 },
            inARow: 0,
            evidence: NO_EVIDENCE,
          }
    const decision = climbAdaptive({ gate: settings.gate, targetBpm, slowestBpm: steps[0]!, helps }, played, result)
    help = decision.help
    const reached = decision.move === 'top' ? pass.bpm : decision.move === 'up' ? pass.bpm : 0
    after = {
      ...base,
      adaptive: decision.state,
      reachedBpm: Math.max(base.reachedBpm, reached),
      because: decision.because,
    }
  } else {
    const step = stepAt(steps, pass.bpm)
    // Slower than any step: good practice, but no step of the stairs.
    if (step < 0) return base
    const ladder =
      step === base.ladder.step
        ? base.ladder
        : { ...base.ladder, step, inARow: 0, misses: 0, unclean: 0, evidence: NO_EVIDENCE }
    const decision = climb({ gate: settings.gate, steps, helps }, ladder, result)
    help = decision.help
    const isGateMet = (decision.move === 'up' && decision.because.kind !== 'probe-up') || decision.move === 'top'
    after = {
      ...base,
      ladder: decision.state,
      reachedBpm: isGateMet ? Math.max(base.reachedBpm, steps[step]!) : base.reachedBpm,
      because: decision.because,
    }
  }
  if (isForgiven) after = { ...after, because: nearly(after.because) }
  if (after.reachedBpm > base.reachedBpm)
    after = {
      ...after,
      reachedAtMs: pass.atMs,
      gates: [...state.gates, { bpm: after.reachedBpm, passes: state.sinceGate, atMs: pass.atMs }],
      sinceGate: 0,
      mendedSinceGate: 0,
      lately: [],
    }
  else if (isGoodEnough(after, pass.bpm)) return acceptGoodEnough(range, after, pass)
  if (result === 'clean') return after
  // If it was never played key by key and fails with the click, the keys come first.
  if (result === 'missed' && !state.ownTime.isDone && state.reachedBpm === 0)
    return { ...after, phase: 'own-time', ownTime: { inARow: 0, isDone: false }, because: { kind: 'keys-first' } }
  if (help === 'own-time') return { ...after, phase: 'own-time', ownTime: { inARow: 0, isDone: false } }
  if (help === 'one-hand') return { ...after, oneHand: { right: MENDING.oneHandTries, left: MENDING.oneHandTries } }
  const spot =
    after.mendedSinceGate < MENDING.mostSinceGate ? spotIn(range, after.traces, help === 'smaller-loop') : undefined
  if (help !== undefined && help !== 'smaller-loop') return after
  if (!spot) return help ? { ...after, because: { kind: 'lost-everywhere' } } : after
  return {
    ...after,
    phase: 'spot',
    spot: { ...spot, mode: 'steady', bpm: tempoOf(range, after), inARow: 0, misses: 0, passes: 0 },
    because: { kind: 'spot', failures: spot.failures, passes: spot.passes },
  }
}

/** The helps available in this range: the smallest loop cannot be cut further. */
function availableHelps({ arrangement, stretch: { from, to }, hands }: ScoreRange): LadderHelp[] {
  const smallest = MENDING.fewestBeats * toDecimal(beatLength(barAt(arrangement, from).meter))
  const canBeCut = smallest <= MENDING.askedShare * toDecimal(subtract(to, from))
  return LADDER.helps[hands === 'both' ? 'both' : 'one'].filter(help => help !== 'smaller-loop' || canBeCut)
}

const atTempo = ({ lately }: StageProgress, bpm: number) =>
  lately.filter(one => one.bpm >= bpm - 1.5).slice(-GOOD_ENOUGH.lately)

function isGoodEnough(state: StageProgress, bpm: number): boolean {
  const there = atTempo(state, bpm)
  return (
    state.sinceGate >= GOOD_ENOUGH.passes &&
    there.length >= GOOD_ENOUGH.lately &&
    there.some(one => one.clean) &&
    there.reduce((sum, one) => sum + one.right, 0) >=
      GOOD_ENOUGH.rightShare * there.reduce((sum, one) => sum + one.notes, 0)
  )
}

/** A tempo that counts without its gate: the stage has it, and continues from the step above. */
export function raisedTo(
  { steps, targetBpm }: ScoreRange,
  state: StageProgress,
  bpm: number,
  atMs: number,
  because: Reason,
): StageProgress {
  const step = Math.min(steps.length - 1, stepAt(steps, bpm) + 1)
  const reached = Math.min(bpm, targetBpm)
  return {
    ...state,
    phase: 'tempo',
    spot: undefined,
    oneHand: undefined,
    reachedBpm: Math.max(state.reachedBpm, reached),
    reachedAtMs: atMs,
    gates: [...state.gates, { bpm: reached, passes: state.sinceGate, atMs }],
    sinceGate: 0,
    mendedSinceGate: 0,
    lately: [],
    ladder: { ...state.ladder, step, inARow: 0, misses: 0, unclean: 0, evidence: NO_EVIDENCE },
    ...(state.adaptive
      ? {
          adaptive: {
            ...state.adaptive,
            inARow: 0,
            evidence: NO_EVIDENCE,
            staircase: { ...state.adaptive.staircase, level: steps[step]!, inARow: 0 },
          },
        }
      : {}),
    because,
  }
}

/** Opens the gate of a tempo that is good enough, and gives that as the reason. */
function acceptGoodEnough(range: ScoreRange, state: StageProgress, { bpm, atMs }: PastPass): StageProgress {
  const there = atTempo(state, bpm)
  return raisedTo(range, state, bpm, atMs, {
    kind: 'good-enough',
    clean: there.filter(one => one.clean).length,
    of: there.length,
    bpm,
  })
}

/** The step a tempo counts for: the nearest below it, with some tolerance. */
const stepAt = (steps: readonly number[], bpm: number): number => steps.findLastIndex(step => bpm >= step - 1)

/** The hardest spot, if it is smaller than the part; when a smaller loop is asked for, the onset that fails most. */
function spotIn(range: ScoreRange, traces: readonly PassTrace[], isAskedFor: boolean): HardSpot | undefined {
  const size = ({ from, to }: ScoreSpan) => toDecimal(subtract(to, from))
  const isSmaller = (spot: HardSpot) =>
    size(spot.loop) <= (isAskedFor ? MENDING.askedShare : MENDING.mostShare) * size(range.stretch)
  const found = findHardSpots(range, traces).find(isSmaller)
  const most = found || !isAskedFor ? undefined : hardestEvent(range, traces)
  return found ?? (most && isSmaller(most) ? most : undefined)
}

function afterSpotPass(range: ScoreRange, state: StageProgress, spot: SpotState, pass: PastPass): StageProgress {
  const { settings, arrangement, stretch, steps, start } = range
  const result = resultOf(pass)
  const passes = spot.passes + 1
  if (passes >= MENDING.mostPasses) return growSpotToStage(range, state, spot, pass, { kind: 'spot-no-better' })
  const as = (next: Partial<SpotState>, because: Reason): StageProgress => ({
    ...state,
    spot: { ...spot, passes, ...next },
    because,
  })
  if (pass.mode === 'own-time') {
    const inARow = pass.clean ? spot.inARow + 1 : 0
    return inARow >= MENDING.ownTimeGate
      ? as({ mode: 'steady', inARow: 0, misses: 0 }, { kind: 'keys-known' })
      : as(
          { mode: 'own-time', inARow },
          pass.clean
            ? { kind: 'no-wrong-key', count: inARow, of: MENDING.ownTimeGate }
            : { kind: 'own-time-once-more' },
        )
  }
  if (result !== 'clean') {
    const misses = spot.misses + 1
    if (misses < MENDING.missesBeforeSlower)
      return as({ mode: 'steady', inARow: 0, misses }, { kind: 'spot-once-more' })
    const slowest = MENDING.slowestShare * steps[start]!
    if (spot.bpm <= slowest + 0.5) return as({ mode: 'own-time', inARow: 0, misses: 0 }, { kind: 'spot-own-time' })
    const bpm = Math.max(slowest, Math.min(spot.bpm, pass.bpm) * (1 - MENDING.slowerBy))
    return as({ mode: 'steady', inARow: 0, misses: 0, bpm }, { kind: 'spot-slower', bpm })
  }
  const gate = spotGate(settings)
  const inARow = spot.inARow + 1
  if (inARow < gate)
    return as({ mode: 'steady', inARow, misses: 0 }, { kind: 'spot-in-a-row', count: inARow, of: gate })
  const larger = growLoop(arrangement, stretch, spot.loop)
  if (larger && !isSameSpan(larger, stretch))
    return as({ loop: larger, mode: 'steady', inARow: 0, misses: 0 }, { kind: 'spot-grows', of: gate })
  return growSpotToStage(range, state, spot, pass, { kind: 'spot-mended' })
}

function growSpotToStage(
  { steps }: ScoreRange,
  state: StageProgress,
  spot: SpotState,
  pass: PastPass,
  because: Reason,
): StageProgress {
  return {
    ...state,
    phase: state.ownTime.isDone || state.passes > OWN_TIME_TRIES ? 'tempo' : 'own-time',
    spot: undefined,
    traces: [],
    mendedSinceGate: state.mendedSinceGate + 1,
    mended: [...state.mended, { first: spot.first, last: spot.last, atMs: pass.atMs }],
    ladder: {
      ...state.ladder,
      step: Math.max(0, stepAt(steps, spot.bpm)),
      inARow: 0,
      misses: 0,
      unclean: 0,
      evidence: NO_EVIDENCE,
    },
    ...(state.adaptive
      ? {
          adaptive: {
            ...state.adaptive,
            inARow: 0,
            staircase: { ...state.adaptive.staircase, level: spot.bpm, inARow: 0 },
          },
        }
      : {}),
    because,
  }
}
