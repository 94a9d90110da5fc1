import { compare } from '../music/quarters'
import { minutesPlayed, type PastPass } from './pass'
import { isReached, nextOfStage, type NextPass, type PlannedStage, type SongPlan, type SongStanding } from './song-plan'
import type { UnitKind } from './stages'

/**
 * Taking turns: practice of one thing brings less and less the longer it goes on at a stretch, and a hand tires (common practice; blocked
 * and interleaved practice: Shea & Morgan 1979, from memory). The numbers were tried with the simulated learners (docs/coach.md).
 */
export const TURNS = {
  /** A visit to one thing lasts at most so long, and so many passes. */
  mostMinutes: 4, mostPasses: 6,
  /** So many things are under way at once. */
  underWay: 8,
  /** After so many passes without a gate it rests: one visit a day, and others come first. */
  restsAfter: 24,
  /** What was learned and did not go is played so often in all, slower each time. */
  reviewTries: 3, againSlower: 0.92,
} as const

/** What is made of what: a seam waits for its parts, a pair for its seam. */
const ORDER: Record<UnitKind, number> = { part: 0, seam: 1, pair: 2, chain: 3, song: 4 }

/** Stages that can be worked on now: not reached, and what they are made of is. In order, twins once. */
export function openStages(plan: SongPlan, standing: SongStanding): PlannedStage[] {
  const missing = plan.stages.filter(stage => !isReached(stage, standing))
  const waitsFor = (stage: PlannedStage, other: PlannedStage) => other.unit.first >= stage.unit.first && other.unit.last <= stage.unit.last
    && (stage.unit.kind === 'part' ? stage.hands === 'both' && other.unit.kind === 'part' && other.hands !== 'both' : ORDER[other.unit.kind] < ORDER[stage.unit.kind])
  const open = missing.filter(stage => !missing.some(other => other !== stage && waitsFor(stage, other)))
  return open.filter((stage, index) => open.findIndex(other => other.key === stage.key) === index)
}

/** Whether a pass was one of this stage's: of all its notes or of a place within them. */
function belongs(plan: SongPlan, stage: PlannedStage, pass: PastPass): boolean {
  const { stretch, hands } = plan.grounds.get(stage.key)!
  return pass.key === stage.key || (pass.hands === hands && compare(pass.stretch.from, stretch.from) >= 0 && compare(pass.stretch.to, stretch.to) <= 0)
}

/**
 * Whose turn it is, and who comes after: first what is being visited, until its time is over, then what was longest ago. `today` are the
 * passes of the day, oldest first.
 */
export function turnsNow(plan: SongPlan, standing: SongStanding, today: readonly PastPass[]): PlannedStage[] {
  const open = openStages(plan, standing)
  const lastAt = new Map(open.map(stage => [stage, today.findLastIndex(pass => belongs(plan, stage, pass))]))
  const isResting = (stage: PlannedStage) => standing.get(stage.key)!.sinceGate >= TURNS.restsAfter && lastAt.get(stage)! >= 0
  const underWay = [...open.filter(stage => !isResting(stage)), ...open.filter(isResting)].slice(0, TURNS.underWay)
  const waiting = underWay.map((stage, place) => ({ stage, place })).sort((a, b) => lastAt.get(a.stage)! - lastAt.get(b.stage)! || a.place - b.place).map(one => one.stage)
  const last = today.at(-1)
  const current = last && underWay.find(stage => belongs(plan, stage, last))
  if (!current) return waiting
  const visit = today.slice(today.findLastIndex(pass => !belongs(plan, current, pass)) + 1)
  const isOver = visit.length >= TURNS.mostPasses || minutesPlayed(visit) >= TURNS.mostMinutes
  const others = waiting.filter(stage => stage !== current)
  return isOver ? [...others, current] : [current, ...others]
}

/** The next pass when things take turns; undefined when everything is reached. */
export function nextInTurn(plan: SongPlan, standing: SongStanding, today: readonly PastPass[]): NextPass | undefined {
  const stage = turnsNow(plan, standing, today)[0]
  return onceMore(plan, standing, today) ?? (stage && nextOfStage(plan, standing, stage))
}

/** A part that was learned on an earlier day and did not go just now: it is not left like that. */
function onceMore(plan: SongPlan, standing: SongStanding, today: readonly PastPass[]): NextPass | undefined {
  const last = today.at(-1)
  if (!last || last.clean || last.mode !== 'steady') return undefined
  const stage = plan.stages.find(one => one.unit.kind === 'part' && one.key === last.key && isReached(one, standing))
  const tries = today.length - 1 - today.findLastIndex(pass => pass.key !== last.key)
  if (!stage || tries >= TURNS.reviewTries || !(standing.get(stage.key)!.reachedAtMs! < today[0]!.atMs)) return undefined
  return { stage, hands: last.hands, stretch: last.stretch, isSpot: false, mode: 'steady', bpm: Math.round(TURNS.againSlower * last.bpm), because: { kind: 'faded' } }
}
