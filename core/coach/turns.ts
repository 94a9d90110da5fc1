import { group, least } from 'd3-array'
import { compare, subtract, toDecimal } from '../music/quarters'
import type { StageProgress } from './stage-progress'
import { resultOf } from './ladder'
import { minutesPlayed, type PastPass } from './pass'
import type { Reason } from './reason'
import {
  progressOf,
  isReached,
  nextOfStage,
  type NextPass,
  type PlannedStage,
  type SongPlan,
  type SongProgress,
} from './song-plan'
import type { UnitKind } from './stages'

/** When one thing is left for another. */
export const TURNS = {
  /**
   * In the order by turns, practice of one thing brings less the longer it goes on (blocked and interleaved practice:
   * Shea & Morgan 1979, unchecked): most passes, most minutes, most things under way. Tried with the simulated learners
   * (docs/coach.md).
   */
  mostPasses: 6,
  mostMinutes: 4,
  underWay: 8,
  /** In the other orders, parts under way at once, and half-done things that stop anything new from beginning. */
  partsUnderWay: 2,
  halfDone: 3,
  /**
   * After this many passes without a gate a stage rests: others come first, and hands together may be tried without it.
   */
  restsAfter: 24,
  /** Tries of a review that failed, slower each time. */
  reviewTries: 3,
  againSlower: 0.92,
  /** The most parts extracted from a run that failed; where more of them fail, the run is too fast. */
  maxExtracted: 2,
} as const

/** What is built on what: a seam waits for its parts, a pair for its seam. */
const ORDER: Record<UnitKind, number> = { part: 0, seam: 1, pair: 2, chain: 3, song: 4 }

/** Goals that can be worked on now: not reached, while what they are built on is. In order, twins once. */
export function unlockedStages(plan: SongPlan, standing: SongProgress): PlannedStage[] {
  const missing = plan.goals.filter(stage => !isReached(plan, stage, standing))
  // Only stages that begin among a stage's own parts can hold it up.
  const beginningAt = group(
    missing.map((stage, index) => ({ stage, index })),
    ({ stage }) => stage.unit.first,
  )
  const isWaiting = (stage: PlannedStage, index: number) => {
    for (let place = stage.unit.first; place <= stage.unit.last; place++) {
      if (beginningAt.get(place)?.some(other => other.index < index && waitsFor(plan, standing, stage, other.stage)))
        return true
    }
    return false
  }
  const seen = new Set<string>()
  return missing.filter((stage, index) => {
    if (seen.has(stage.key) || isWaiting(stage, index)) return false
    seen.add(stage.key)
    return true
  })
}

function waitsFor(plan: SongPlan, standing: SongProgress, stage: PlannedStage, other: PlannedStage): boolean {
  if (other.unit.first < stage.unit.first || other.unit.last > stage.unit.last) return false
  if (stage.unit.kind !== 'part') return ORDER[other.unit.kind] < ORDER[stage.unit.kind]
  // Hands together are tried although a hand is not there yet, once that hand has had its time.
  return (
    stage.hands === 'both' &&
    other.unit.kind === 'part' &&
    other.hands !== 'both' &&
    !isResting(progressOf(standing, other))
  )
}

const isResting = ({ sinceGate }: StageProgress): boolean => sinceGate >= TURNS.restsAfter

/** Whether a pass belongs to this stage: of all its notes or of a place within them. */
function belongs(plan: SongPlan, stage: PlannedStage, pass: PastPass): boolean {
  const { stretch, hands } = plan.ranges.get(stage.key)!
  // Each hand alone once more is part of working on both.
  return (
    pass.key === stage.key ||
    ((pass.hands === hands || hands === 'both') &&
      compare(pass.stretch.from, stretch.from) >= 0 &&
      compare(pass.stretch.to, stretch.to) <= 0)
  )
}

/** The current visit: how long so far and at most; `most` is 0 where it lasts until the stage is reached. */
export interface Turn {
  stage: PlannedStage
  passes: number
  minutes: number
  most: number
}

/** The ongoing visit: the stage that heard the last pass of the day. */
export function turnOf(
  plan: SongPlan,
  standing: SongProgress,
  stages: readonly PlannedStage[],
  today: readonly PastPass[],
): Turn | undefined {
  const last = today.at(-1)
  if (!last) return undefined
  const length = ({ unit: { stretch } }: PlannedStage) => toDecimal(subtract(stretch.to, stretch.from))
  const key = plan.changes.keys.get(last.key) ?? last.key
  // A place belongs to the smallest stage that heard it.
  const stage =
    stages.find(one => one.key === key) ??
    least(
      stages.filter(one => progressOf(standing, one).lastAtMs === last.atMs),
      (a, b) => length(a) - length(b),
    )
  if (!stage) return undefined
  const visit = today.slice(today.findLastIndex(pass => !belongs(plan, stage, pass)) + 1)
  return {
    stage,
    passes: visit.length,
    minutes: minutesPlayed(visit),
    most: plan.settings.school === 'turns' ? TURNS.mostMinutes : plan.settings.turnMinutes,
  }
}

const isOver = (plan: SongPlan, { passes, minutes, most }: Turn): boolean =>
  (plan.settings.school === 'turns' && passes >= TURNS.mostPasses) || (most > 0 && minutes >= most)

/** Whose turn it is, and who follows. `today`: the passes of the day, oldest first. */
export const turnsNow = (plan: SongPlan, standing: SongProgress, today: readonly PastPass[]): PlannedStage[] =>
  plan.settings.school === 'turns' ? byTurns(plan, standing, today) : inOrder(plan, standing, today)

/** The stage being visited comes first until its time is over, and then last. */
function withTurn(
  plan: SongPlan,
  standing: SongProgress,
  stages: readonly PlannedStage[],
  today: readonly PastPass[],
): PlannedStage[] {
  const turn = turnOf(plan, standing, stages, today)
  if (!turn) return [...stages]
  const others = stages.filter(stage => stage !== turn.stage)
  return isOver(plan, turn) ? [...others, turn.stage] : [turn.stage, ...others]
}

/** First the stage being visited, until its time is over, then the one left alone longest. */
function byTurns(plan: SongPlan, standing: SongProgress, today: readonly PastPass[]): PlannedStage[] {
  const open = unlockedStages(plan, standing)
  const lastAt = new Map(open.map(stage => [stage, today.findLastIndex(pass => belongs(plan, stage, pass))]))
  const rests = (stage: PlannedStage) => isResting(progressOf(standing, stage)) && lastAt.get(stage)! >= 0
  const underWay = [...open.filter(stage => !rests(stage)), ...open.filter(rests)].slice(0, TURNS.underWay)
  const waiting = underWay
    .map((stage, place) => ({ stage, place }))
    .sort((a, b) => lastAt.get(a.stage)! - lastAt.get(b.stage)! || a.place - b.place)
    .map(one => one.stage)
  return withTurn(plan, standing, waiting, today)
}

/**
 * In the order of practice: the first unlocked goal, until its time is over; what failed in a longer run is extracted
 * from it first.
 */
function inOrder(plan: SongPlan, standing: SongProgress, today: readonly PastPass[]): PlannedStage[] {
  const open = unlockedStages(plan, standing)
  const out = open.length > 0 ? partsToExtract(plan, standing, open[0]!) : []
  const candidates = [...out, ...open]
  const allowed = candidates.filter(
    stage =>
      progressOf(standing, stage).lastAtMs !== undefined || out.includes(stage) || mayBegin(plan, standing, stage),
  )
  const stages = allowed.length > 0 ? allowed : candidates
  const lastAt = (stage: PlannedStage) => today.findLastIndex(pass => belongs(plan, stage, pass))
  // Resting stages come last, the one left alone longest first among them.
  const ordered = [
    ...stages.filter(stage => !isResting(progressOf(standing, stage))),
    ...stages.filter(stage => isResting(progressOf(standing, stage))).sort((a, b) => lastAt(a) - lastAt(b)),
  ]
  return withTurn(plan, standing, ordered, today)
}

/** A part begins while fewer than two others are under way, and nothing while three things are half done. */
function mayBegin(plan: SongPlan, standing: SongProgress, stage: PlannedStage): boolean {
  const begun = (one: PlannedStage) => progressOf(standing, one).lastAtMs !== undefined
  const halfDone = plan.goals.filter(
    one => begun(one) && !isReached(plan, one, standing) && progressOf(standing, one).reachedBpm === 0,
  )
  if (new Set(halfDone.map(one => one.key)).size >= TURNS.halfDone) return false
  if (stage.unit.kind !== 'part') return true
  // A stage shared by twins belongs to the first of them.
  const home = (one: PlannedStage) => plan.stages.find(other => other.key === one.key)!.unit.first
  const underWay = plan.stages
    .filter(one => one.unit.kind === 'part' && begun(one) && !isReached(plan, one, standing))
    .map(home)
  const itsPart = home(plan.stages.findLast(one => one.unit.kind === 'part' && one.unit.first === stage.unit.first)!)
  return new Set(underWay.filter(place => place !== itsPart)).size < TURNS.partsUnderWay
}

/**
 * The parts to extract from a longer run: where its last pass failed, those not reached at that tempo. None after a
 * single slip, and none where it failed everywhere, since then it is too fast.
 */
function partsToExtract(plan: SongPlan, standing: SongProgress, run: PlannedStage): PlannedStage[] {
  const progress = progressOf(standing, run)
  const last = progress.lately.at(-1)
  const trace = progress.traces.at(-1)
  if (
    (run.unit.kind !== 'chain' && run.unit.kind !== 'song') ||
    progress.reachedBpm === 0 ||
    !last ||
    resultOf(last) !== 'missed' ||
    !trace ||
    trace.failed.length === 0
  )
    return []
  const failing = plan.parts
    .map((part, place) => ({
      place,
      failures: trace.failed.filter(at => compare(at, part.from) >= 0 && compare(at, part.to) < 0).length,
    }))
    .filter(one => one.failures > 0)
    .sort((a, b) => b.failures - a.failures)
  if (failing.length > TURNS.maxExtracted) return []
  return failing.flatMap(({ place }) => {
    const whole = plan.stages.findLast(stage => stage.unit.kind === 'part' && stage.unit.first === place)
    if (!whole) return []
    const stage = { ...whole, share: Math.min(1, last.bpm / run.targetBpm) }
    return isReached(plan, stage, standing) ? [] : [stage]
  })
}

/** The next pass; undefined when everything is reached. On a move from one thing to another, the reason says so. */
export function nextInTurn(plan: SongPlan, standing: SongProgress, today: readonly PastPass[]): NextPass | undefined {
  const again = onceMore(plan, standing, today)
  if (again) return again
  const stage = turnsNow(plan, standing, today)[0]
  if (!stage) return undefined
  const next = nextOfStage(plan, standing, stage)
  return { ...next, because: withReason(plan, standing, today, next) }
}

/** The reason for moving from what was played last to this. */
function withReason(
  plan: SongPlan,
  standing: SongProgress,
  today: readonly PastPass[],
  { stage, bpm, because }: NextPass,
): Reason {
  const before = turnOf(plan, standing, plan.goals, today)
  const isSameSpot = because.kind.startsWith('spot') && progressOf(standing, stage).lastAtMs === today.at(-1)?.atMs
  if (before?.stage.key === stage.key || isSameSpot) return because
  const run = plan.goals.find(goal => !isReached(plan, goal, standing))
  const isTakenOut =
    run !== undefined && run.key !== stage.key && partsToExtract(plan, standing, run).some(one => one.key === stage.key)
  if (isTakenOut) return { kind: 'taken-out', from: nameOf(run), bpm: progressOf(standing, run).lately.at(-1)!.bpm }
  const isRunAgain =
    before?.stage.unit.kind === 'part' &&
    (stage.unit.kind === 'chain' || stage.unit.kind === 'song') &&
    progressOf(standing, stage).passes > 0
  const then: Reason = isRunAgain ? { kind: 'whole-again', bpm } : because
  if (!before) return then
  const { hands } = before.stage
  if (isReached(plan, before.stage, standing))
    return { kind: 'goes', what: nameOf(before.stage), hands, bpm: progressOf(standing, before.stage).reachedBpm, then }
  if (isOver(plan, before))
    return { kind: 'turn-over', what: nameOf(before.stage), hands, minutes: Math.round(before.minutes), then }
  return then
}

const nameOf = ({ unit: { kind, names } }: PlannedStage) => ({ kind, names })

/** A part learned on an earlier day that failed just now is not left like that. */
function onceMore(plan: SongPlan, standing: SongProgress, today: readonly PastPass[]): NextPass | undefined {
  const last = today.at(-1)
  if (!last || last.clean || last.mode !== 'steady') return undefined
  const stage = plan.stages.find(
    one => one.unit.kind === 'part' && one.key === last.key && isReached(plan, one, standing),
  )
  const tries = today.length - 1 - today.findLastIndex(pass => pass.key !== last.key)
  if (!stage || tries >= TURNS.reviewTries || !(progressOf(standing, stage).reachedAtMs! < today[0]!.atMs))
    return undefined
  return {
    stage,
    hands: last.hands,
    stretch: last.stretch,
    isSpot: false,
    mode: 'steady',
    bpm: Math.round(TURNS.againSlower * last.bpm),
    because: { kind: 'faded' },
  }
}
