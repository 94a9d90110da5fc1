import { momentsOf, type Moment } from '../ear/moments'
import { byOnset, type Take, type TakeNote, type TakePedal } from '../ear/take'
import type { ExpectedNote, PedalDue } from '../music/passage'
import { difficulties } from './difficulty'
import type { PlayerHabits } from './habits'
import { seededChance, type Chance } from './randomness'

/** What the player did on purpose, note for note in the order of the expected notes; `played` numbers the take's notes. */
export interface Truth {
  notes: { id: string, time: number, outcome: 'right' | 'wrong' | 'missed', played: number | null, displacementMs: number | null }[]
  extras: number[]
  /** Strokes of attempts that were given up. */
  restarted: number[]
}

/** One visit to a moment: when it falls, and whether it belongs to an attempt that is given up later. */
interface Visit { moment: number, atMs: number, abandoned: boolean }

/** A stroke and what it is for: the expected note, or nothing. */
interface Struck { note: TakeNote, expected: number | null, abandoned: boolean }

/**
 * Plays a passage as a learner would, seeded: the same expected notes, habits and seed give the same take and truth.
 * Expected notes are as from `expectedNotes`, sorted by time; `pedals` as from `pedalsDue`.
 */
export function simulatePlayer(expected: readonly ExpectedNote[], habits: PlayerHabits, seed: number, pedals: readonly PedalDue[] = []): { take: Take, truth: Truth } {
  const chance = seededChance(seed)
  const moments = momentsOf(expected)
  const struck: Struck[] = []
  const outcomes: Truth['notes'][number]['outcome'][] = expected.map(() => 'missed')
  const visits = routeOf(expected, moments, habits)
  let wander = habits.jitterMs * chance.normal()
  const heardAt = new Map<number, number>()
  for (const { moment, atMs, abandoned } of visits) {
    wander = habits.jitterMemory * wander + Math.sqrt(1 - habits.jitterMemory ** 2) * habits.jitterMs * chance.normal()
    const { notes, pitches } = moments[moment]!
    heardAt.set(moment, atMs + wander)
    for (const [at, index] of notes.entries()) {
      const written = expected[index]!
      // A key that both hands have is struck once.
      if (pitches.indexOf(written.pitch) < at && !written.grace) continue
      const spread = notes.length > 1 ? habits.chordSpreadMs * chance.normal() : 0
      const handLateMs = written.hand === 'left' ? habits.leftLateMs : habits.rightLateMs
      const onsetMs = atMs + wander + spread + handLateMs - (written.momentMs - written.onsetMs)
      const heldMs = Math.max(20, written.durationMs * habits.articulation[written.hand] * (written.articulations?.includes('staccato') ? 0.5 : 1))
      const isMelody = written.hand === 'right' && written.pitch === Math.max(...pitches)
      const loud = habits.velocity + (isMelody ? habits.melodySteps : 0) + (written.articulations?.includes('accent') ? habits.accentSteps : 0) + habits.velocityJitter * chance.normal()
      const strike = (pitch: number, delayMs: number, lastsMs: number, forNote: number | null) => struck.push({
        note: { pitch, onsetMs: onsetMs + delayMs, durationMs: lastsMs, velocity: Math.round(Math.min(127, Math.max(1, loud))) }, expected: forNote, abandoned,
      })
      const isInner = notes.length > 2 && written.pitch > Math.min(...pitches) && written.pitch < Math.max(...pitches)
      if (chance.happens(habits.missed * (isInner ? habits.missedInnerFactor : 1))) outcomes[index] = 'missed'
      else {
        const planted = habits.plantedWrong[written.id]
        const pitch = planted !== undefined ? written.pitch + planted : chance.happens(habits.wrong) ? slip(written, pitches, habits, chance) : written.pitch
        outcomes[index] = pitch === written.pitch ? 'right' : 'wrong'
        strike(pitch, 0, heldMs, index)
      }
      if (chance.happens(habits.extra)) strike(slip(written, pitches, habits, chance), (0.3 + 0.4 * chance.uniform()) * Math.min(written.durationMs, 600), 90, null)
    }
  }
  struck.sort((a, b) => byOnset(a.note, b.note))
  const playedOf = new Map<number, number>()
  struck.forEach(({ expected: index, abandoned }, at) => { if (index !== null && !abandoned) playedOf.set(index, at) })
  return {
    take: { notes: struck.map(({ note }) => note), pedals: pedalling(pedals, moments, heardAt, habits) },
    truth: {
      notes: expected.map((written, index) => {
        const at = playedOf.get(index) ?? null
        return {
          id: written.id, time: written.time, outcome: at === null ? 'missed' : outcomes[index]!, played: at,
          displacementMs: at === null ? null : struck[at]!.note.onsetMs - written.onsetMs,
        }
      }),
      extras: struck.flatMap(({ expected: index, abandoned }, at) => index === null && !abandoned ? [at] : []),
      restarted: struck.flatMap(({ abandoned }, at) => abandoned ? [at] : []),
    },
  }
}

/** The share of a step that a late player saves at most. */
const MOST_HURRY = 0.4

/** When each moment is visited: tempo, hurry, hesitations, restarts and gaps, everything but the hand's own unsteadiness. */
function routeOf(expected: readonly ExpectedNote[], moments: readonly Moment[], habits: PlayerHabits): Visit[] {
  const hardness = difficulties(expected, moments)
  const placeOf = (moment: number) => expected[moments[moment]!.notes.at(-1)!]!
  const isAt = (moment: number, { bar, beat }: { bar: number, beat: number }) =>
    moments[moment]!.notes.some(note => expected[note]!.bar === bar && Math.abs(expected[note]!.beat - beat) < 0.01)
  const lastMs = moments.at(-1)?.atMs || 1
  const [first, last] = habits.stretch
  const visits: Visit[] = []
  const restarted = new Set<number>()
  let delayMs = 0
  let catchUp = 0.5
  const stepMs = (from: number, to: number): number => {
    const written = swung(moments, to, expected, habits) - swung(moments, from, expected, habits)
    const about = (moments[from]!.atMs + moments[to]!.atMs) / 2 / lastMs
    const hurry = (hardness[to]! < 0 ? habits.rushEasyPercent : habits.slowHardPercent) * hardness[to]! / 100
    return written * (first + (last - first) * about) * (1 - habits.rushPercent / 100) * (1 + hurry)
  }
  let atMs = moments.length > 0 ? swung(moments, 0, expected, habits) * first : 0
  let before = -1
  for (let moment = 0; moment < moments.length; moment++) {
    const { bar } = placeOf(moment)
    if (habits.skips.some(skip => bar >= skip.fromBar && bar <= skip.toBar)) continue
    const goneMs = before < 0 ? 0 : stepMs(moment - 1, moment)
    atMs += goneMs
    before = moment
    const pause = habits.hesitations.find(one => isAt(moment, one))
    if (pause) catchUp = pause.catchUp ?? 0.5
    // Nobody makes up a second in one eighth note.
    delayMs = pause ? pause.ms : Math.max(delayMs * (1 - catchUp), delayMs - MOST_HURRY * goneMs)
    visits.push({ moment, atMs: atMs + habits.offsetMs + delayMs, abandoned: false })
    const restart = habits.restarts.findIndex((one, index) => !restarted.has(index) && isAt(moment, one))
    if (restart < 0) continue
    const { backMoments, pauseMs } = habits.restarts[restart]!
    restarted.add(restart)
    const target = Math.max(0, moment - backMoments)
    for (const visit of visits) if (visit.moment >= target) visit.abandoned = true
    atMs += pauseMs - (target > 0 ? stepMs(target - 1, target) : 0)
    before = target - 1
    moment = target - 1
  }
  return visits
}

/** A moment's time with the eighths swung as the player likes: the second of two in a beat comes later or earlier. */
function swung(moments: readonly Moment[], index: number, expected: readonly ExpectedNote[], { swingRatio }: PlayerHabits): number {
  const moment = moments[index]!
  if (swingRatio === undefined) return moment.atMs
  const { beat } = expected[moment.notes.at(-1)!]!
  const share = beat % 1
  const isOffbeat = Math.abs(share - 0.5) < 0.01 || Math.abs(share - 2 / 3) < 0.01
  if (!isOffbeat) return moment.atMs
  const onBeat = moments.slice(Math.max(0, index - 3), index).findLast(one => Math.abs(expected[one.notes.at(-1)!]!.beat % 1) < 0.01)
  if (!onBeat) return moment.atMs
  const beatMs = (moment.atMs - onBeat.atMs) / share
  // Only where the beat is in two.
  const inThree = moments.slice(Math.max(0, index - 3), index).some(one => one.atMs > onBeat.atMs + 1)
  return inThree ? moment.atMs : onBeat.atMs + beatMs * swingRatio / (1 + swingRatio)
}

/** A key that a finger meant for the written one lands on: beside it, in another inversion, or without its accidental. */
function slip(written: ExpectedNote, together: readonly number[], { wrongKinds }: PlayerHabits, chance: Chance): number {
  const isFree = (pitch: number) => pitch >= 21 && pitch <= 108 && !together.includes(pitch)
  const beside = [-2, -1, 1, 2].map(step => written.pitch + step).filter(isFree)
  const inversion = together.flatMap(pitch => [pitch - 12, pitch + 12]).filter(pitch => isFree(pitch) && Math.abs(pitch - written.pitch) <= 9)
  const accidental = /[#b]/.test(written.spelled) ? [written.pitch - (written.spelled.includes('#') ? 1 : -1)].filter(isFree) : []
  const kinds = ([['beside', beside], ['inversion', inversion], ['accidental', accidental]] as const).filter(([, keys]) => keys.length > 0)
  let left = chance.uniform() * kinds.reduce((sum, [kind]) => sum + wrongKinds[kind], 0)
  const [, keys] = kinds.find(([kind]) => (left -= wrongKinds[kind]) < 0) ?? kinds[0] ?? ['beside', [written.pitch + 3]]
  return chance.pick(keys)
}

/** Syncopated pedalling: up with the new harmony, down again shortly after (common practice). */
function pedalling(pedals: readonly PedalDue[], moments: readonly Moment[], heardAt: ReadonlyMap<number, number>, { pedalLateMs }: PlayerHabits): TakePedal[] {
  if (pedalLateMs === undefined) return []
  const played = pedals.flatMap(({ kind, atMs }): TakePedal[] => {
    const moment = moments.findLastIndex(one => one.atMs <= atMs + 1)
    const at = (heardAt.get(moment) ?? atMs) + (moment >= 0 ? atMs - moments[moment]!.atMs : 0) + pedalLateMs
    if (kind === 'down') return [{ atMs: at, down: true }]
    return kind === 'up' ? [{ atMs: at, down: false }] : [{ atMs: at, down: false }, { atMs: at + 120, down: true }]
  })
  return played.sort((a, b) => a.atMs - b.atMs).filter((one, index, all) => index === 0 || one.down !== all[index - 1]!.down)
}
