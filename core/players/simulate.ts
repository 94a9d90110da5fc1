import { byOnset, type Take, type TakeNote } from '../ear/take'
import type { ExpectedNote } from '../music/passage'
import { seededChance, type Chance } from './randomness'

/** How a simulated player plays; everything at 0 is a machine. */
export interface PlayerHabits {
  /** Standard deviation of the onsets around the beat, ms. */
  jitterMs: number
  /** How much of a note's displacement the next one inherits, 0 to 1: people drift about the beat, they do not shake. */
  jitterMemory: number
  /** Standard deviation of chord notes around their common moment, ms. */
  chordSpreadMs: number
  /** Probabilities for each written note. */
  wrong: number
  missed: number
  extra: number
  /** How much faster than the beat the player runs, percent of the time. */
  rushPercent: number
  /** Pauses at written places; half of the delay is made up at every following moment. */
  hesitations: readonly { bar: number, beat: number, ms: number }[]
  /** Held time ÷ written time. */
  articulation: number
  velocity: number
}

export const STEADY_HANDS: PlayerHabits = {
  jitterMs: 0, jitterMemory: 0.5, chordSpreadMs: 0, wrong: 0, missed: 0, extra: 0, rushPercent: 0, hesitations: [],
  articulation: 0.9, velocity: 68,
}

/** What the player did on purpose, note for note in the order of the expected notes; `played` numbers the take's notes. */
export interface Truth {
  notes: { id: string, time: number, outcome: 'right' | 'wrong' | 'missed', played: number | null, displacementMs: number | null }[]
  extras: number[]
}

/** The keys a slipping finger lands on: a half or whole step beside (common practice). */
const SLIPS = [-2, -1, 1, 2] as const

/**
 * Plays a passage as a learner would, seeded: the same expected notes, habits and seed give the same take and truth.
 * Expected notes are as from `expectedNotes`, sorted by time.
 */
export function simulatePlayer(expected: readonly ExpectedNote[], habits: PlayerHabits, seed: number): { take: Take, truth: Truth } {
  const chance = seededChance(seed)
  const played: { note: TakeNote, truthIndex: number | null }[] = []
  const outcomes: Truth['notes'][number]['outcome'][] = []
  let wander = habits.jitterMs * chance.normal()
  let delayMs = 0
  let momentMs = Number.NEGATIVE_INFINITY
  expected.forEach((written, index) => {
    if (written.onsetMs - momentMs > 1) {
      momentMs = written.onsetMs
      wander = habits.jitterMemory * wander + Math.sqrt(1 - habits.jitterMemory ** 2) * habits.jitterMs * chance.normal()
      const pause = habits.hesitations.find(one => one.bar === written.bar && Math.abs(one.beat - written.beat) < 0.01)
      delayMs = pause ? pause.ms : delayMs / 2
    }
    const inChord = expected[index - 1]?.onsetMs === written.onsetMs || expected[index + 1]?.onsetMs === written.onsetMs
    const spread = inChord ? habits.chordSpreadMs * chance.normal() : 0
    const onsetMs = written.onsetMs * (1 - habits.rushPercent / 100) + delayMs + wander + spread
    const strike = (pitch: number, atMs: number, heldMs: number, truthIndex: number | null) => played.push({
      truthIndex,
      note: { pitch, onsetMs: atMs, durationMs: Math.max(20, heldMs), velocity: Math.round(Math.min(127, Math.max(1, habits.velocity + 6 * chance.normal()))) },
    })
    if (chance.happens(habits.missed)) outcomes.push('missed')
    else if (chance.happens(habits.wrong)) {
      outcomes.push('wrong')
      strike(slip(written, expected, chance), onsetMs, written.durationMs * habits.articulation, index)
    }
    else {
      outcomes.push('right')
      strike(written.pitch, onsetMs, written.durationMs * habits.articulation, index)
    }
    if (chance.happens(habits.extra)) strike(slip(written, expected, chance), onsetMs + (0.3 + 0.4 * chance.uniform()) * Math.min(written.durationMs, 600), 90, null)
  })
  played.sort((a, b) => byOnset(a.note, b.note))
  const playedOf = new Map(played.map(({ truthIndex }, index) => [truthIndex, index]))
  return {
    take: { notes: played.map(({ note }) => note), pedals: [] },
    truth: {
      notes: expected.map((written, index) => {
        const at = playedOf.get(index) ?? null
        return {
          id: written.id, time: written.time, outcome: outcomes[index]!, played: at,
          displacementMs: at === null ? null : played[at]!.note.onsetMs - written.onsetMs,
        }
      }),
      extras: played.flatMap(({ truthIndex }, index) => truthIndex === null ? [index] : []),
    },
  }
}

/** A key beside the written one that is not itself written at that moment. */
function slip(written: ExpectedNote, expected: readonly ExpectedNote[], chance: Chance): number {
  const together = expected.filter(note => Math.abs(note.onsetMs - written.onsetMs) < 1).map(note => note.pitch)
  const beside = SLIPS.map(step => written.pitch + step).filter(pitch => !together.includes(pitch) && pitch >= 21 && pitch <= 108)
  return beside.length > 0 ? chance.pick(beside) : written.pitch + 3
}
