import { arrangementEnd, tempoAt, type Arrangement, type Hand } from '../music/arrangement'
import { passageClock, playedPassage, type ScoreSpan } from '../music/passage'
import { compare, ZERO } from '../music/quarters'
import { notesKey } from '../parts/notes-key'
import { changesSince, NO_CHANGES, type Changes } from './changes'
import {
  afterPass,
  scoreRange,
  nextPassOf,
  raisedTo,
  startStage,
  type StagePass,
  type StageProgress,
  type ScoreRange,
} from './stage-progress'
import type { PastPass } from './pass'
import { resultOf } from './ladder'
import type { Reason } from './reason'
import {
  withDemonstratedInEdition,
  withDemonstrated,
  barNumbersOf,
  knownOf,
  newLoops,
  rememberedSteps,
  stepsName,
  stepsOf,
  type DemonstratedTempos,
  type NoteStep,
  type StepsOf,
} from './shown'
import { isSlowFirst, type CoachSettings } from './settings'
import { stageName, stagesOf, STAGES, type CoachPart, type Stage } from './stages'
import { REACHING, slowShareOf, startingTempo } from './starting-tempo'

export interface PlannedStage extends Stage {
  /** The name of its notes: twins share it, and with it the progress. */
  key: string
  targetBpm: number
}

/**
 * A song as the coach sees it: what there is to reach, and the notes and tempos of each stage. Made once; passes do not
 * change it.
 */
export interface SongPlan {
  arrangement: Arrangement
  parts: readonly CoachPart[]
  settings: CoachSettings
  /** In the order of practice. The same stage may come twice, at a higher tempo the second time. */
  goals: readonly PlannedStage[]
  /** Each stage once, at its final tempo. */
  stages: readonly PlannedStage[]
  ranges: ReadonlyMap<string, ScoreRange>
  steps: StepsOf
  /** Earlier versions of the song, newest first, in which passes were played; only where passes are read again. */
  earlierRevisions: readonly Arrangement[]
  /** Other editions of the song in which passes were played; only where passes are read. */
  editions?: readonly Arrangement[]
  changes: Changes
}

/** The player's progress in a song: each stage by its key, and the demonstrated tempos. */
export interface SongProgress {
  stages: ReadonlyMap<string, StageProgress>
  shown: DemonstratedTempos
}

/** The past of a song: its earlier versions, or the changes already worked out from them. */
export interface SongPast {
  earlierRevisions?: readonly Arrangement[]
  changes?: Changes
}

/** `targetShare`: the player's goal as a share of the written tempo. */
export function planSong(
  arrangement: Arrangement,
  parts: readonly CoachPart[],
  settings: CoachSettings,
  targetShare = 1,
  { earlierRevisions = [], changes }: SongPast = {},
): SongPlan {
  const ranges = new Map<string, ScoreRange>()
  const whole = { from: ZERO, to: arrangementEnd(arrangement) }
  const pace = {
    slowShare: slowShareOf(arrangement, parts, targetShare, settings.experience),
    minutes: passageClock(arrangement, playedPassage(arrangement, whole, 'both')).lengthMs / 60_000 / targetShare,
  }
  const slowFirst = isSlowFirst(settings)
  const goals = stagesOf(arrangement, parts, settings, pace).map((stage): PlannedStage => {
    const { unit, hands } = stage
    const key = notesKey(arrangement, unit.stretch, hands)
    const targetBpm = Math.round(tempoAt(arrangement, unit.stretch.from) * targetShare)
    // Two parts may be the whole song: then it is a long run.
    if (!ranges.has(key) || unit.kind === 'chain' || unit.kind === 'song') {
      const isPart = unit.kind === 'part'
      const isBoth = hands === 'both'
      const startBpm = slowFirst
        ? Math.min(1, isPart && !isBoth ? STAGES.aloneFaster * pace.slowShare : pace.slowShare) * targetBpm
        : isPart
          ? startingTempo(arrangement, unit.stretch, hands, targetBpm, {
              ...(isBoth ? { slowerHandBpm: STAGES.aloneShare * targetBpm } : {}),
              experience: settings.experience,
            })
          : STAGES.joinStartShare * targetBpm
      const own: CoachSettings =
        unit.kind === 'part'
          ? settings
          : {
              ...settings,
              gate: settings.gate === 'sure' ? 'sure' : Math.min(settings.gate, STAGES.gate[unit.kind]),
              steps: unit.kind === 'song' && slowFirst ? settings.steps : STAGES.joinSteps,
              ownTimeGate: 0,
            }
      ranges.set(
        key,
        scoreRange(arrangement, unit.stretch, hands, key, { targetBpm, startBpm }, own, {
          isForgiving: unit.kind === 'chain' || unit.kind === 'song',
          hearsWithin: isPart,
          mayBeginInOwnTime: !isBoth || settings.school === 'turns',
        }),
      )
    }
    return { ...stage, key, targetBpm }
  })
  // Each stage where it comes first, at its final tempo.
  const stages = [...new Map(goals.map(goal => [stageName(goal), goal])).values()]
  const steps = rememberedSteps(arrangement)
  return {
    arrangement,
    parts,
    settings,
    goals,
    stages,
    ranges,
    steps,
    earlierRevisions,
    changes: changes ?? (earlierRevisions.length > 0 ? changesSince(earlierRevisions, ranges, steps) : NO_CHANGES),
  }
}

/** A plan as sent between server and browser: with all its steps, without the arrangement, which is there already. */
export interface SentPlan extends Omit<SongPlan, 'arrangement' | 'steps'> {
  known: Map<string, readonly NoteStep[]>
}

export function sentPlan({ arrangement: _, steps, ...plan }: SongPlan): SentPlan {
  return {
    ...plan,
    known: new Map(
      [...plan.ranges.values()].map(({ stretch, hands }) => [stepsName(stretch, hands), steps(stretch, hands)]),
    ),
  }
}

export const receivedPlan = (arrangement: Arrangement, { known, ...plan }: SentPlan): SongPlan => ({
  ...plan,
  arrangement,
  steps: rememberedSteps(arrangement, known),
})

export const startSong = (plan: SongPlan): SongProgress => ({
  stages: new Map([...plan.ranges].map(([key, range]) => [key, startStage(range)])),
  shown: new Map(),
})

export const progressOf = (
  { stages }: Pick<SongProgress, 'stages'>,
  { key }: Pick<PlannedStage, 'key'>,
): StageProgress => stages.get(key)!

/**
 * Whether a clean pass must have no large fault of touch, swing, dynamics or pedal either: right notes first, then
 * even, then faster, then music. So this is asked for on the tempo steps after the whole song has been played slowly,
 * and always when the player wants strict judgement.
 */
export function requiresTouch(
  plan: SongPlan,
  standing: SongProgress,
  { mode, strictness }: Pick<PastPass, 'mode' | 'strictness'>,
): boolean {
  if (mode === 'own-time') return false
  return (
    strictness === 'strict' ||
    plan.stages.some(stage => stage.unit.kind === 'song' && progressOf(standing, stage).reachedBpm > 0)
  )
}

/** The progress after a pass. Only the stages it belongs to change. */
export function afterSongPass(plan: SongPlan, standing: SongProgress, played: PastPass): SongProgress {
  const faults = played.cleanBut ?? []
  const isHeldBack = played.clean && faults.length > 0 && requiresTouch(plan, standing, played)
  const pass = {
    ...played,
    key: plan.changes.keys.get(played.key) ?? played.key,
    ...(isHeldBack ? { clean: false } : {}),
  }
  const notes = notesOf(plan, played)
  const shown = notes
    ? withDemonstrated(
        notes,
        notes === plan.arrangement ? plan.steps : (stretch, hands) => stepsOf(notes, stretch, hands),
        standing.shown,
        played,
      )
    : standing.shown
  let changed: Map<string, StageProgress> | undefined
  for (const [key, range] of plan.ranges) {
    const before = standing.stages.get(key)!
    const after = afterPass(range, before, pass)
    if (after === before) continue
    const isNear = isHeldBack && after.because.kind === 'near'
    ;(changed ??= new Map(standing.stages)).set(
      key,
      isNear ? { ...after, because: { kind: 'clean-but', faults } } : after,
    )
  }
  const after = { stages: changed ?? standing.stages, shown }
  return shown === standing.shown ? after : withKnownSteps(plan, after, pass)
}

/** The progress after a pass of another edition of the song: its keys are known, and nothing else changes. */
export function afterEditionPass(plan: SongPlan, standing: SongProgress, pass: PastPass): SongProgress {
  const edition = plan.editions?.find(one => notesKey(one, pass.stretch, pass.hands) === pass.key)
  return edition ? { ...standing, shown: withDemonstratedInEdition(edition, standing.shown, pass) } : standing
}

/** The version of the song whose notes were played; undefined where no known version has them. */
const notesOf = (
  { arrangement, earlierRevisions }: SongPlan,
  { key, stretch, hands }: PastPass,
): Arrangement | undefined => [arrangement, ...earlierRevisions].find(one => notesKey(one, stretch, hands) === key)

/**
 * Steps demonstrated elsewhere count where the coach goes by evidence: a part or seam whose every step was in time is
 * reached at the slowest of them, and whatever lies within a clean run is reached at the run's tempo. Longer runs ask
 * for more than their steps, so they count only when played.
 */
function withKnownSteps(plan: SongPlan, standing: SongProgress, pass: PastPass): SongProgress {
  if (plan.settings.gate !== 'sure') return standing
  let changed: Map<string, StageProgress> | undefined
  for (const stage of plan.stages) {
    const progress = (changed ?? standing.stages).get(stage.key)!
    const { stretch, hands } = plan.ranges.get(stage.key)!
    if (progress.reachedBpm >= stage.targetBpm || pass.key === stage.key) continue
    const isWithin =
      (pass.hands === 'both' || pass.hands === hands) &&
      compare(pass.stretch.from, stretch.from) <= 0 &&
      compare(pass.stretch.to, stretch.to) >= 0 &&
      isCleanWithin(pass, stretch)
    const isLong = stage.unit.kind !== 'part' && stage.unit.kind !== 'seam'
    if (!isWithin && (isLong || progress.passes > 0)) continue
    const reached = Math.min(knownOf(standing.shown, plan.steps(stretch, hands)).bpm, stage.targetBpm)
    if (reached <= progress.reachedBpm || (progress.reachedBpm === 0 && reached < wantedBpm(stage))) continue
    ;(changed ??= new Map(standing.stages)).set(
      stage.key,
      raisedTo(plan.ranges.get(stage.key)!, progress, reached, pass.atMs, { kind: 'known-elsewhere', bpm: reached }),
    )
  }
  return changed ? { ...standing, stages: changed } : standing
}

/** Whether a pass was clean within a span: all of it was, or it was nearly clean and failed elsewhere. */
const isCleanWithin = (pass: PastPass, { from, to }: ScoreSpan): boolean =>
  pass.clean || (resultOf(pass) === 'near' && !pass.failed.some(at => compare(at, from) >= 0 && compare(at, to) < 0))

/** The progress after all passes, oldest first. */
export const progressAfter = (plan: SongPlan, passes: readonly PastPass[]): SongProgress =>
  passes.reduce((standing, pass) => afterSongPass(plan, standing, pass), startSong(plan))

/** Tolerance: a step rarely equals the required share. */
const NEARLY = 0.03

export const wantedBpm = ({ share, targetBpm }: Pick<PlannedStage, 'share' | 'targetBpm'>): number =>
  (share - NEARLY) * targetBpm

export const isReached = (
  plan: Pick<SongPlan, 'stages' | 'changes'>,
  stage: PlannedStage,
  standing: SongProgress,
): boolean =>
  (progressOf(standing, stage).reachedBpm >= wantedBpm(stage) && remainingToShow(plan, stage, standing).length === 0) ||
  isCarried(plan, stage, standing)

/** A hand alone is no goal any more once both hands together are at their goal. */
function isCarried(plan: Pick<SongPlan, 'stages' | 'changes'>, stage: PlannedStage, standing: SongProgress): boolean {
  if (stage.unit.kind !== 'part' || stage.hands === 'both') return false
  const both = plan.stages.find(
    other => other.hands === 'both' && other.unit.kind === 'part' && other.unit.first === stage.unit.first,
  )
  return both !== undefined && isReached(plan, both, standing)
}

/** The steps, by name, that were changed since a stage was learned and have not been in time since. */
const remainingToShow = (
  { changes }: Pick<SongPlan, 'changes'>,
  { key }: PlannedStage,
  { shown }: SongProgress,
): readonly string[] => changes.again.get(key)?.filter(name => (shown.get(name) ?? 0) <= 0) ?? []

/** A pass that the coach asks for: where, with which hands, how, and why. */
export interface NextPass extends StagePass {
  stage: PlannedStage
  hands: Stage['hands']
  /** Only what is new of something known. */
  isNew?: true
}

/** The next pass on the way to one stage, regardless of the others. */
export function nextOfStage(plan: SongPlan, standing: SongProgress, stage: PlannedStage): NextPass {
  const [range, progress] = [plan.ranges.get(stage.key)!, progressOf(standing, stage)]
  const next = nextPassOf(range, progress)
  if (progress.oneHand) {
    const hand: Hand = progress.oneHand.left > 0 ? 'left' : 'right'
    return {
      ...next,
      stage,
      hands: hand,
      stretch: stage.unit.stretch,
      isSpot: false,
      mode: 'steady',
      because: { kind: 'one-hand', hand },
    }
  }
  const fresh = whatIsNew(plan, standing, stage)
  if (fresh) return { ...next, ...fresh, stage, hands: stage.hands, isSpot: false, isNew: true, mode: 'steady' }
  if (progress.passes > 0) return { ...next, stage, hands: stage.hands }
  // The keys are known already, so the click begins at once.
  const steps = plan.steps(range.stretch, range.hands)
  const isKnown = next.mode === 'own-time' && knownOf(standing.shown, steps).keys
  const bpm = progress.reachedBpm > 0 ? next.bpm : firstBpm(plan, standing, stage, next.bpm)
  const mode = isKnown ? 'steady' : next.mode
  return { ...next, stage, hands: stage.hands, mode, bpm, because: firstReason(stage, mode, bpm) }
}

/** The stages of the parts that a join or run covers. */
export const partStagesWithin = (
  { stages }: Pick<SongPlan, 'stages'>,
  { first, last }: Pick<Stage['unit'], 'first' | 'last'>,
): PlannedStage[] => stages.filter(({ unit }) => unit.kind === 'part' && unit.first >= first && unit.last <= last)

/**
 * The first tempo of a stage: hands together below what the slower hand can do now, unless both are at the common slow
 * tempo; a join at what its parts can do now.
 */
function firstBpm(plan: SongPlan, standing: SongProgress, stage: PlannedStage, bpm: number): number {
  const slowest = plan.ranges.get(stage.key)!.steps[0]!
  const slowFirst = isSlowFirst(plan.settings)
  if (stage.unit.kind === 'part') {
    const alone = slowFirst || stage.hands !== 'both' ? undefined : slowerHandBpm(plan, standing, stage)
    return alone === undefined ? bpm : Math.min(bpm, Math.round(Math.max(slowest, REACHING.togetherShare * alone)))
  }
  if (!slowFirst) return bpm
  const shares = partStagesWithin(plan, stage.unit)
    .filter(one => one.hands === stage.hands || one.hands === 'both')
    .map(one => progressOf(standing, one).reachedBpm / one.targetBpm)
    .filter(share => share > 0)
  return Math.min(bpm, Math.round(Math.max(slowest, Math.min(...shares, 1) * stage.targetBpm)))
}

function firstReason({ unit, hands }: PlannedStage, mode: 'own-time' | 'steady', bpm: number): Reason {
  switch (unit.kind) {
    case 'seam':
      return { kind: 'over-the-seam' }
    case 'pair':
      return { kind: 'back-to-back' }
    case 'chain':
      return { kind: 'in-one-go' }
    case 'song':
      return { kind: 'whole-slowly', bpm }
    case 'part':
      return mode === 'own-time'
        ? { kind: 'own-time-first' }
        : hands === 'both'
          ? { kind: 'hands-together', bpm }
          : { kind: 'start-tempo', bpm }
  }
}

/**
 * Tries at the new places alone before the whole is worked on; and the tempo, as a share, at which changed places
 * begin.
 */
const NEW_TRIES = 3
const CHANGED_SLOWER = 0.75

/** The next loop of the new places in a stage mostly known from elsewhere; undefined where there is none. */
function whatIsNew(
  plan: SongPlan,
  standing: SongProgress,
  stage: PlannedStage,
): { stretch: ScoreSpan; bpm: number; because: Reason } | undefined {
  const [range, progress] = [plan.ranges.get(stage.key)!, progressOf(standing, stage)]
  const again = remainingToShow(plan, stage, standing)
  if (stage.unit.kind !== 'part' && again.length === 0) return undefined
  if (again.length === 0 && progress.passes > 0) return undefined
  const steps = plan.steps(range.stretch, range.hands)
  const places =
    again.length > 0
      ? steps.filter(step => again.includes(step.name)).map(step => step.place)
      : knownOf(standing.shown, steps).fresh
  const loops = newLoops(plan.arrangement, range.stretch, steps, places)
  if (loops.length === 0 || (again.length === 0 && progress.sinceGate >= NEW_TRIES * loops.length)) return undefined
  // A changed place is played a little slower than the rest is known.
  const bpm = Math.max(
    range.steps[range.start]!,
    again.length > 0 ? Math.round(CHANGED_SLOWER * progress.reachedBpm) : 0,
  )
  return {
    stretch: loops[0]!,
    bpm,
    because: { kind: again.length > 0 ? 'changed' : 'only-new', bars: barNumbersOf(plan.arrangement, places) },
  }
}

function slowerHandBpm(plan: SongPlan, standing: SongProgress, { unit }: PlannedStage): number | undefined {
  const reached = plan.stages
    .filter(
      stage =>
        stage.unit.kind === 'part' && stage.hands !== 'both' && stage.unit.first === unit.first && unit.kind === 'part',
    )
    .map(stage => progressOf(standing, stage).reachedBpm)
  return reached.length === 2 && Math.min(...reached) > 0 ? Math.min(...reached) : undefined
}

/** The whole song at its tempo is the purpose of it all, so its events weigh this many times. */
const SONG_WEIGHS = 3

/**
 * The share of the way through a song that is done, 0 to 1: each stage weighs by its events, and by how far its tempo
 * has come.
 */
export function songProgressShare(plan: SongPlan, standing: SongProgress): number {
  let [done, all] = [0, 0]
  for (const stage of plan.stages) {
    const weight = plan.ranges.get(stage.key)!.onsets.length * (stage.unit.kind === 'song' ? SONG_WEIGHS : 1)
    all += weight
    done += weight * Math.min(1, progressOf(standing, stage).reachedBpm / wantedBpm(stage))
  }
  return all === 0 ? 0 : done / all
}
