import { tempoAt, type Arrangement, type Hand } from '../music/arrangement'
import { notesKey } from '../parts/notes-key'
import { afterPass, groundOf, nextOn, startFlight, type FlightPass, type FlightState, type Ground } from './flight'
import type { PastPass } from './pass'
import type { CoachSettings } from './settings'
import { stagesOf, STAGES, type CoachPart, type Stage } from './stages'
import { REACHING, startingTempo } from './starting-tempo'

export interface PlannedStage extends Stage {
  /** The flight it is climbed on: twins climb the same one. */
  key: string
  targetBpm: number
}

/** A song as the coach sees it: what there is to reach, and the ground of each flight. Made once; it does not change with passes. */
export interface SongPlan {
  arrangement: Arrangement
  parts: readonly CoachPart[]
  settings: CoachSettings
  stages: readonly PlannedStage[]
  grounds: ReadonlyMap<string, Ground>
}

/** Where the player stands in a song: a flight by its key. */
export type SongStanding = ReadonlyMap<string, FlightState>

/** `targetShare`: the player's goal as a share of the written tempo. */
export function planSong(arrangement: Arrangement, parts: readonly CoachPart[], settings: CoachSettings, targetShare = 1): SongPlan {
  const grounds = new Map<string, Ground>()
  const stages = stagesOf(arrangement, parts, settings).map((stage): PlannedStage => {
    const { unit, hands } = stage
    const key = notesKey(arrangement, unit.stretch, hands)
    const targetBpm = Math.round(tempoAt(arrangement, unit.stretch.from) * targetShare)
    if (!grounds.has(key)) {
      const isPart = unit.kind === 'part'
      const alone = hands === 'both' ? STAGES.aloneShare * targetBpm : undefined
      const startBpm = isPart ? startingTempo(arrangement, unit.stretch, hands, targetBpm, alone) : STAGES.joinStartShare * targetBpm
      const own: CoachSettings = unit.kind === 'part' ? settings : { ...settings, gate: Math.min(settings.gate, STAGES.gate[unit.kind]), steps: STAGES.joinSteps, ownTimeGate: 0 }
      grounds.set(key, groundOf(arrangement, unit.stretch, hands, key, { targetBpm, startBpm }, own, { isForgiving: unit.kind === 'chain' || unit.kind === 'song', hearsWithin: isPart }))
    }
    return { ...stage, key, targetBpm }
  })
  return { arrangement, parts, settings, stages, grounds }
}

export const startSong = (plan: SongPlan): SongStanding =>
  new Map([...plan.grounds].map(([key, ground]) => [key, startFlight(ground)]))

/**
 * Whether a clean pass must have no large fault of touch, swing, dynamics or pedal either: right notes first, then even, then faster, then music. So it is
 * asked for on the tempo steps after the whole song has been played, slowly, and always where the player wants to be judged strictly.
 */
export function asksForTouch(plan: SongPlan, standing: SongStanding, { mode, strictness }: Pick<PastPass, 'mode' | 'strictness'>): boolean {
  if (mode === 'own-time') return false
  return strictness === 'strict' || plan.stages.some(stage => stage.unit.kind === 'song' && standing.get(stage.key)!.reachedBpm > 0)
}

/** The standing after a pass. Only the flights it belongs to change. */
export function afterSongPass(plan: SongPlan, standing: SongStanding, played: PastPass): SongStanding {
  const faults = played.cleanBut ?? []
  const isHeldBack = played.clean && faults.length > 0 && asksForTouch(plan, standing, played)
  const pass = isHeldBack ? { ...played, clean: false } : played
  let changed: Map<string, FlightState> | undefined
  for (const [key, ground] of plan.grounds) {
    const before = standing.get(key)!
    const after = afterPass(ground, before, pass)
    if (after === before) continue
    const isNear = isHeldBack && after.because.kind === 'near'
    ;(changed ??= new Map(standing)).set(key, isNear ? { ...after, because: { kind: 'clean-but', faults } } : after)
  }
  return changed ?? standing
}

/** The standing after all passes, oldest first. */
export const songStanding = (plan: SongPlan, passes: readonly PastPass[]): SongStanding =>
  passes.reduce((standing, pass) => afterSongPass(plan, standing, pass), startSong(plan))

/** A gate met this near to what is asked for counts: steps do not fall on the shares exactly. */
const NEARLY = 0.03

const wantedBpm = ({ share, targetBpm }: PlannedStage): number => (share - NEARLY) * targetBpm

export const isReached = (stage: PlannedStage, standing: SongStanding): boolean =>
  standing.get(stage.key)!.reachedBpm >= wantedBpm(stage)

/** A pass that the coach asks for: where, with which hands, how, and why. */
export interface NextPass extends FlightPass { stage: PlannedStage, hands: Stage['hands'] }

/** The next pass on the way to one stage, whatever else there is. */
export function nextOfStage(plan: SongPlan, standing: SongStanding, stage: PlannedStage): NextPass {
  const [ground, flight] = [plan.grounds.get(stage.key)!, standing.get(stage.key)!]
  const next = nextOn(ground, flight)
  if (flight.oneHand) {
    const hand: Hand = flight.oneHand.left > 0 ? 'left' : 'right'
    return { ...next, stage, hands: hand, stretch: stage.unit.stretch, isSpot: false, mode: 'steady', because: { kind: 'one-hand', hand } }
  }
  // The first time together begins below what the slower hand can do now.
  const alone = stage.hands === 'both' && flight.passes === 0 ? slowerHandBpm(plan, standing, stage) : undefined
  const bpm = alone === undefined ? next.bpm : Math.min(next.bpm, Math.round(Math.max(ground.steps[0]!, REACHING.togetherShare * alone)))
  return { ...next, stage, hands: stage.hands, bpm }
}

function slowerHandBpm(plan: SongPlan, standing: SongStanding, { unit }: PlannedStage): number | undefined {
  const reached = plan.stages.filter(stage => stage.unit.kind === 'part' && stage.hands !== 'both' && stage.unit.first === unit.first && unit.kind === 'part').map(stage => standing.get(stage.key)!.reachedBpm)
  return reached.length === 2 && Math.min(...reached) > 0 ? Math.min(...reached) : undefined
}

/** How much of the way through a song is done: each stage counts by its moments, and by how far its tempo has come. 0 to 1. */
export function songProgress(plan: SongPlan, standing: SongStanding): number {
  let [done, all] = [0, 0]
  for (const stage of plan.stages) {
    const weight = plan.grounds.get(stage.key)!.moments.length
    all += weight
    done += weight * Math.min(1, standing.get(stage.key)!.reachedBpm / wantedBpm(stage))
  }
  return all === 0 ? 0 : done / all
}
