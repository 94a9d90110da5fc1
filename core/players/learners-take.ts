import type { Take, TakeNote } from '../ear/take'
import { equal, type Quarters } from '../music/quarters'
import type { ExpectedNote } from '../music/passage'
import { MACHINE, type PlayerHabits } from './habits'
import type { LearnerPass } from './learner'
import { seededChance, type Chance } from './randomness'
import { simulatePlayer } from './simulate'
import { strikesOf, type Strike } from './strikes'

/** The unsteadiness of a passage well in hand, and of one at twice the load (own choice, from what teachers meet). */
const HANDS = { easyJitterMs: 11, hardJitterMs: 26, chordSpreadMs: 9, leftLateMs: 8 } as const
/** How late a key comes that has to be found, ms; recovered over the next few notes. */
const LATE_MS = { least: 260, most: 620 } as const
/**
 * In own time: from a wrong key to the right one, and how much longer the step takes when the key had to be found, ms.
 */
const LOOKING_MS = { afterWrong: 650, longer: 1400 } as const
/** The most that a key comes early, ms. */
const EARLY_MS = 30
const BESIDE = [-2, -1, 1, 2]

export interface LearnersPlaying {
  pass: LearnerPass
  /** The expected notes, as from `expectedNotes`, and the place of each note of the arrangement. */
  expected: readonly ExpectedNote[]
  placeOf: (noteId: string) => Quarters
  isOwnTime: boolean
  seed: number
}

/**
 * The take a keyboard would have sent of a learner's pass: a wrong or late key at each failed place, everything else
 * right, less even at a higher load.
 */
export function takeOfLearner({ pass, expected, placeOf, isOwnTime, seed }: LearnersPlaying): Take {
  const chance = seededChance(seed)
  const strikes = strikesOf(expected)
  const strikeAt = (place: Quarters): Strike | undefined =>
    strikes.find(strike => strike.notes.some(note => equal(placeOf(expected[note]!.id), place)))
  const { easyJitterMs, hardJitterMs, chordSpreadMs, leftLateMs } = HANDS
  const habits: PlayerHabits = {
    ...MACHINE,
    jitterMs: easyJitterMs + (hardJitterMs - easyJitterMs) * Math.min(1, pass.load / 2),
    chordSpreadMs,
    leftLateMs: pass.load > 0.7 ? 2 * leftLateMs : leftLateMs,
    velocityJitter: 4,
  }
  if (isOwnTime) return unhurried(simulatePlayer(expected, habits, seed).take, { pass, strikes, strikeAt, chance })
  const late = pass.failed.filter(place => !pass.wrong.some(one => equal(one, place)))
  const hesitations = late.flatMap(place => {
    const strike = strikeAt(place)
    return strike
      ? [
          {
            bar: strike.bar,
            beat: strike.beat,
            ms: LATE_MS.least + (LATE_MS.most - LATE_MS.least) * chance.uniform(),
            catchUp: 0.4,
          },
        ]
      : []
  })
  const plantedWrong = Object.fromEntries(
    pass.wrong.flatMap(place => {
      const strike = strikeAt(place)
      if (!strike) return []
      const { id, pitch } = expected[chance.pick(strike.notes)]!
      const free = BESIDE.filter(step => !strike.pitches.includes(pitch + step))
      return free.length > 0 ? [[id, chance.pick(free)]] : []
    }),
  )
  return simulatePlayer(expected, { ...habits, hesitations, plantedWrong }, seed).take
}

/** The same keys at the learner's own pace, wrong ones before the right one where they occurred. */
function unhurried(
  take: Take,
  {
    pass,
    strikes,
    strikeAt,
    chance,
  }: {
    pass: LearnerPass
    strikes: readonly Strike[]
    strikeAt: (place: Quarters) => Strike | undefined
    chance: Chance
  },
): Take {
  const lastMs = strikes.at(-1)?.atMs || 1
  const slower = Math.max(0.3, pass.lengthMs / lastMs)
  const stops = pass.failed.flatMap(place => {
    const strike = strikeAt(place)
    return strike
      ? [
          {
            atMs: strike.atMs,
            isWrong: pass.wrong.some(one => equal(one, place)),
            pitch: strike.pitches[0]!,
            together: strike.pitches,
          },
        ]
      : []
  })
  /** How long the learner has paused by a score time. */
  const stoodMs = (isBefore: (atMs: number) => boolean) =>
    stops
      .filter(stop => isBefore(stop.atMs))
      .reduce((sum, stop) => sum + (stop.isWrong ? LOOKING_MS.afterWrong : LOOKING_MS.longer), 0)
  const notes = take.notes.map((note): TakeNote => {
    return {
      ...note,
      onsetMs: note.onsetMs * slower + stoodMs(atMs => atMs - EARLY_MS <= note.onsetMs),
      durationMs: Math.max(120, 0.8 * note.durationMs * slower),
    }
  })
  const slips = stops
    .filter(stop => stop.isWrong)
    .flatMap((stop): TakeNote[] => {
      const free = BESIDE.map(step => stop.pitch + step).filter(pitch => !stop.together.includes(pitch))
      return free.length > 0
        ? [
            {
              pitch: chance.pick(free),
              onsetMs: stop.atMs * slower + stoodMs(atMs => atMs < stop.atMs),
              durationMs: 200,
              velocity: MACHINE.velocity,
            },
          ]
        : []
    })
  return { ...take, notes: [...notes, ...slips].sort((a, b) => a.onsetMs - b.onsetMs) }
}
