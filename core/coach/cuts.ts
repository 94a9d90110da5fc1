import type { Hand } from '../music/arrangement'
import type { MinutesLeft } from './forecast'
import { isReached, songProgressShare, type SongPlan, type SongProgress } from './song-plan'

/** Something to leave out so that a song is ready in time, and what it saves. */
export type Cut =
  | { kind: 'tempo'; share: number }
  /** Only some of the parts can be ready: those up to one, or all but some. */
  | { kind: 'parts'; ready: number; parts: number; endAfter: string; leaveOut: string[] }
  | { kind: 'hand'; hand: Hand; parts: number }
  | { kind: 'time'; minutes: number; insteadOf: number }

const DAY_MS = 86_400_000

/**
 * What to leave out when a target date will not be met, most helpful first: a lower tempo if that alone is enough, only
 * the parts that can be ready, a simpler hand where one hand holds the song up; or the minutes a day that it would
 * take.
 */
export function suggestCuts(
  plan: SongPlan,
  standing: SongProgress,
  left: MinutesLeft,
  perDay: number,
  nowMs: number,
  targetMs: number,
): Cut[] {
  const minutes = Math.max(0, Math.floor((targetMs - nowMs) / DAY_MS)) * perDay
  const cuts: Cut[] = []
  const now = songProgressShare(plan, standing)
  const share = left.likely <= 0 ? 1 : Math.min(1, minutes / left.likely)
  // Stages are weighted half by notes and half by tempo, so a stage not reached in tempo may stay below.
  const tempo = Math.floor(20 * (0.6 + 0.4 * share)) / 20
  if (tempo < 1 && tempo >= 0.7) cuts.push({ kind: 'tempo', share: tempo })
  const parts = plan.parts.map((part, place) => {
    const stages = plan.stages.filter(stage => stage.unit.kind === 'part' && stage.unit.first === place)
    return { part, open: stages.filter(stage => !isReached(plan, stage, standing)).length, all: stages.length }
  })
  const ready = parts.filter(one => one.open === 0).length
  const within = Math.max(ready, Math.floor(parts.length * (now + (1 - now) * share)))
  if (within < parts.length && within > 0) {
    const untouched = parts
      .filter(one => one.open === one.all)
      .map(one => one.part.name)
      .slice(-2)
    cuts.push({
      kind: 'parts',
      ready: within,
      parts: parts.length,
      endAfter: plan.parts[within - 1]!.name,
      leaveOut: untouched.length > 0 ? untouched : [plan.parts.at(-1)!.name],
    })
  }
  const openOf = (hand: 'left' | 'right') =>
    plan.stages.filter(stage => stage.unit.kind === 'part' && stage.hands === hand && !isReached(plan, stage, standing))
      .length
  const [leftOpen, rightOpen] = [openOf('left'), openOf('right')]
  if (Math.abs(leftOpen - rightOpen) >= 2) {
    const hand = leftOpen > rightOpen ? 'left' : 'right'
    cuts.push({ kind: 'hand', hand, parts: Math.max(leftOpen, rightOpen) })
  }
  const needed = left.likely / Math.max(1, Math.floor((targetMs - nowMs) / DAY_MS))
  if (needed <= 60) cuts.push({ kind: 'time', minutes: Math.ceil(needed), insteadOf: Math.round(perDay) })
  return cuts
}
