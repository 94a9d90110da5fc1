import { barAt, positionOf, type Arrangement, type Hands, type Position } from '../music/arrangement'
import type { Meter } from '../music/meter'
import { isSameSpan, type ScoreSpan } from '../music/passage'
import { spanPlace, type SpanPlace } from '../music/stretch-place'
import { add, compare, subtract, type Quarters } from '../music/quarters'
import { tempoOf, type StageProgress } from './stage-progress'
import { steadyGate } from './gate'
import {
  progressOf,
  isReached,
  nextOfStage,
  songProgressShare,
  type NextPass,
  type PlannedStage,
  type SongPlan,
  type SongProgress,
} from './song-plan'
import { unlockedStages, turnsNow } from './turns'
import type { PastPass } from './pass'
import type { Reason } from './reason'
import type { UnitKind } from './stages'

/** A tempo step as it is shown. */
export interface Tread {
  bpm: number
  isReached: boolean
  isClean: boolean
  isHere: boolean
}

/** The tempos of one hand, or of both, of one part or join, as drawn. */
export interface ShownStage {
  hands: Hands
  /** The meter of its first bar, whose beats a tempo counts. */
  meter: Meter
  treads: Tread[]
  /** The tempo asked for before the next stage begins. */
  wantedBpm: number
  isDone: boolean
  /** Whether it can be worked on now, or waits for others. */
  isOpen: boolean
  passes: number
  /** First in the player's own time: clean passes, of how many. */
  ownTime?: { inARow: number; gate: number }
  /** Clean passes in a row at the current tread, of how many. */
  gate?: { inARow: number; of: number }
  spot?: { place: SpanPlace; bpm: number; stretch: ScoreSpan }
  /** Places that were hard and are mended. */
  mended: readonly Position[]
  /** The gates that opened, and how many passes each took. */
  gates: StageProgress['gates']
  because: Reason
}

export interface ShownJoin extends ShownStage {
  kind: Exclude<UnitKind, 'part'>
  names: readonly string[]
  first: number
  last: number
  stretch: ScoreSpan
}

/** A song as stairs: the player's progress in every part and join, and what comes next. */
export interface Stairs {
  /** Indexed by part. */
  parts: ShownStage[][]
  joins: ShownJoin[]
  progress: number
  next?: ShownPass
}

/** A pass that is asked for, in plain fields. */
export interface ShownPass {
  kind: UnitKind
  names: readonly string[]
  first: number
  stretch: ScoreSpan
  isWhole: boolean
  place: SpanPlace
  hands: Hands
  mode: 'own-time' | 'steady'
  bpm: number
  meter: Meter
  isSpot: boolean
  isNew?: true
  because: Reason
}

/** The tempo at which a stage continues: the current tread, or the fastest reached; quarter notes a minute. */
export const currentBpm = ({ treads }: Pick<ShownStage, 'treads'>): number =>
  (treads.find(tread => tread.isHere) ?? treads.findLast(tread => tread.isReached) ?? treads[0]!).bpm

/**
 * The progress of each hand of a part and both together: the share of its tempo steps that is reached; null for a hand
 * that rests.
 */
export type ReachedShares = Record<Hands, number | null>

/** The stairs in small: one entry a part. */
export const reachedShares = ({ parts }: Pick<Stairs, 'parts'>): ReachedShares[] =>
  parts.map(stages => {
    const of = (hands: Hands): number | null => {
      const treads = stages.find(progress => progress.hands === hands)?.treads
      return treads ? treads.filter(tread => tread.isReached).length / treads.length : null
    }
    return { left: of('left'), right: of('right'), both: of('both') }
  })

/** `today`: the passes of the day, oldest first. */
export function stairsOf(plan: SongPlan, standing: SongProgress, today: readonly PastPass[]): Stairs {
  const open = new Set(unlockedStages(plan, standing).map(stage => stage.key))
  const next = turnsNow(plan, standing, today)[0]
  const shown = (stage: PlannedStage) => shownStage(plan, standing, stage, open.has(stage.key))
  return {
    parts: plan.parts.map((_, place) =>
      plan.stages.filter(stage => stage.unit.kind === 'part' && stage.unit.first === place).map(shown),
    ),
    joins: plan.stages.flatMap(stage =>
      stage.unit.kind === 'part'
        ? []
        : [
            {
              ...shown(stage),
              kind: stage.unit.kind,
              names: stage.unit.names,
              first: stage.unit.first,
              last: stage.unit.last,
              stretch: stage.unit.stretch,
            },
          ],
    ),
    progress: songProgressShare(plan, standing),
    ...(next ? { next: showPass(plan, nextOfStage(plan, standing, next)) } : {}),
  }
}

export function showPass(
  { arrangement, ranges }: SongPlan,
  { stage, stretch, hands, mode, bpm, isSpot, isNew, because }: NextPass,
): ShownPass {
  const { unit } = stage
  // What twins share is practised where its notes first appear.
  const isWhole = isSameSpan(stretch, ranges.get(stage.key)!.stretch)
  return {
    kind: unit.kind,
    names: unit.names,
    first: unit.first,
    stretch,
    isWhole,
    place: spanPlace(arrangement, stretch),
    hands,
    mode,
    bpm,
    meter: meterAt(arrangement, stretch),
    isSpot,
    ...(isNew ? { isNew } : {}),
    because,
  }
}

const meterAt = (arrangement: Arrangement, { from }: ScoreSpan): Meter => barAt(arrangement, from).meter

function shownStage(plan: SongPlan, standing: SongProgress, stage: PlannedStage, isOpen: boolean): ShownStage {
  const [range, progress] = [plan.ranges.get(stage.key)!, progressOf(standing, stage)]
  const here = tempoOf(range, progress)
  const isDone = isReached(plan, stage, standing)
  // The slower steps are shown only to a player who is on them, or has reached only them.
  const lowest = isDone && progress.reachedBpm > 0 ? progress.reachedBpm : here
  const steps = range.steps.filter((bpm, step) => step >= range.start || (progress.passes > 0 && bpm >= lowest - 0.5))
  const { spot } = progress
  return {
    hands: stage.hands,
    meter: meterAt(plan.arrangement, stage.unit.stretch),
    isDone,
    isOpen: isOpen || isDone,
    passes: progress.passes,
    mended: placesOf(plan.arrangement, progress.mended, subtract(stage.unit.stretch.from, range.stretch.from)),
    gates: progress.gates,
    because: progress.because,
    wantedBpm: Math.round(stage.share * stage.targetBpm),
    treads: steps.map(bpm => ({
      bpm,
      isReached: progress.reachedBpm >= bpm - 1,
      isClean: progress.cleanBpm >= bpm - 1,
      isHere: !isDone && Math.abs(bpm - nearest(steps, here)) < 0.01,
    })),
    ...(progress.phase === 'own-time'
      ? { ownTime: { inARow: progress.ownTime.inARow, gate: Math.max(1, range.settings.ownTimeGate) } }
      : {}),
    ...(progress.phase === 'tempo' && progress.passes > 0 && !isDone
      ? { gate: steadyGate(range.settings, progress) }
      : {}),
    ...(progress.phase === 'spot' && spot
      ? { spot: { place: spanPlace(plan.arrangement, spot.loop), bpm: Math.round(spot.bpm), stretch: spot.loop } }
      : {}),
  }
}

/** The mended places, each once, in score order. `shift`: how far a twin lies behind the notes practised for both. */
const placesOf = (arrangement: Arrangement, mended: StageProgress['mended'], shift: Quarters): Position[] => [
  ...new Map(
    [...mended]
      .sort((a, b) => compare(a.first, b.first))
      .map(({ first }) => [`${first.n}/${first.d}`, positionOf(arrangement, add(first, shift))]),
  ).values(),
]

const nearest = (steps: readonly number[], bpm: number): number =>
  steps.reduce((best, step) => (Math.abs(step - bpm) < Math.abs(best - bpm) ? step : best), steps[0]!)
