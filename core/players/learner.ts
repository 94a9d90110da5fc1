import { EACH_HAND } from '#core/music/arrangement'
import { groupScoreEvents } from '../ear/score-events'
import type { Arrangement, Hands } from '../music/arrangement'
import { expectedNotes, spanPassage, type ScoreSpan } from '../music/passage'
import type { Quarters } from '../music/quarters'
import { median } from 'simple-statistics'
import { seededChance } from './randomness'

/**
 * A learner whose errors fall with clean practice of each transition, rise with tempo above what is comfortable, and
 * come back over days. What is learned belongs to a transition (these keys after those, with this hand) and not to a
 * bar, so it helps wherever the transition comes back. Own model around known facts: practice follows a curve of
 * diminishing returns (Newell & Rosenbloom 1981), practice spread over days is kept better (Cepeda and others 2006),
 * and mistakes are practised too (both unchecked). The numbers are invented; docs/coach.md says what depends on them.
 */
export interface LearnerCharacter {
  /** Seconds for a known step, and the factor for an unknown one. */
  stepSeconds: number
  unknownTimes: number
  /** How sharply errors rise when a step comes sooner than is comfortable, per doubling of tempo. */
  steepness: number
  /** Error probability of an event when all is easy. */
  slip: number
  /** What a clean and a failed try teach, as a share of what is left to learn; below 0 a mistake is learned too. */
  cleanRate: number
  failedRate: number
  /** Tries of one transition in a session after which each teaches half as much. */
  satiation: number
  /** Days after which a new memory has lost most of what it can lose, and how each day of practice extends that. */
  stabilityDays: number
  spacingGain: number
  /** The share of strength that is never lost. */
  keptShare: number
  /** How much new things compete for attention: 1 fully, 0 not at all. */
  sharedAttention: number
  /** What own time teaches compared with the click: the keys, but not the rhythm. */
  ownTimeTeaches: number
  /** How much harder hands together are than the harder hand, until learned. */
  togetherTimes: number
}

const ORDINARY: LearnerCharacter = {
  stepSeconds: 0.13,
  unknownTimes: 7,
  steepness: 4,
  slip: 0.004,
  cleanRate: 0.1,
  failedRate: 0.02,
  satiation: 12,
  stabilityDays: 3,
  spacingGain: 1.7,
  keptShare: 0.6,
  sharedAttention: 1,
  ownTimeTeaches: 0.8,
  togetherTimes: 2.2,
}

/** Players whom teachers know (common practice; the numbers are invented). */
export const LEARNERS = {
  ordinary: ORDINARY,
  /** Hardly slips at an easy tempo, needs long for anything new. */
  careful: { ...ORDINARY, slip: 0.002, unknownTimes: 9, steepness: 5, cleanRate: 0.085 },
  /** Learns fast, forgets fast. */
  quick: { ...ORDINARY, cleanRate: 0.16, stabilityDays: 1.5, spacingGain: 1.5, keptShare: 0.45 },
  /** Each hand is learned soon; together is another thing. */
  oneHanded: { ...ORDINARY, togetherTimes: 3.4, stepSeconds: 0.11 },
  /** Slips often, and learns little from a pass with mistakes. */
  scattered: { ...ORDINARY, slip: 0.008, failedRate: 0, cleanRate: 0.085, steepness: 3.5 },
} as const satisfies Record<string, LearnerCharacter>

/** A learner's memory of one transition. */
interface Memory {
  strength: number
  days: number
  lastDay: number
  today: number
}

/** The outcome of a pass, event by event. */
export interface LearnerPass {
  events: Quarters[]
  failed: Quarters[]
  /** The failed onsets with a wrong key; at the others the right key came too late. */
  wrong: Quarters[]
  /** The load of the median event: time needed ÷ time given. */
  load: number
  notes: number
  right: number
  clean: boolean
  lengthMs: number
}

/** An event of a span: what each hand does to reach it, what both do together, and the quarter notes it is given. */
interface Step {
  place: Quarters
  transitions: string[]
  together?: string
  notes: number
  wayHalfSteps: number
  quarters: number
}

/** A span as transitions; made once and used for every pass. */
export type LearnersRange = readonly Step[]

/** The transitions of the hands in a span. */
export function learnersRange(arrangement: Arrangement, stretch: ScoreSpan, hands: Hands): LearnersRange {
  const onsets = new Map(arrangement.notes.map(note => [note.id, note.onset]))
  const expected = expectedNotes(arrangement, spanPassage(stretch.from, stretch.to, hands), 60)
  const before: Record<'right' | 'left', number[]> = { right: [], left: [] }
  /** The first event has the count-in to get ready in. */
  let lastMs = -4000
  return groupScoreEvents(expected).map(({ atMs, notes }): Step => {
    const own = notes.map(note => expected[note]!)
    const moved = EACH_HAND.flatMap(hand => {
      const pitches = own.filter(note => note.hand === hand).map(note => note.pitch)
      if (pitches.length === 0) return []
      const from = before[hand]
      before[hand] = pitches
      const way =
        from.length === 0 ? 0 : Math.max(...pitches.map(pitch => Math.min(...from.map(one => Math.abs(one - pitch)))))
      return [{ key: `${hand} ${from.join(' ')} > ${pitches.join(' ')}`, way }]
    })
    const step: Step = {
      place: onsets.get(own.at(-1)!.id)!,
      notes: own.length,
      wayHalfSteps: Math.max(...moved.map(one => one.way)),
      quarters: (atMs - lastMs) / 1000,
      transitions: moved.map(one => one.key),
      ...(hands === 'both' ? { together: `both ${moved.map(one => one.key).join(' + ')}` } : {}),
    }
    lastMs = atMs
    return step
  })
}

/** The transitions of any span of an arrangement, each computed once. */
export function rememberedRanges(arrangement: Arrangement): (stretch: ScoreSpan, hands: Hands) => LearnersRange {
  const known = new Map<string, LearnersRange>()
  return (stretch, hands) => {
    const key = `${stretch.from.n}/${stretch.from.d} ${stretch.to.n}/${stretch.to.d} ${hands}`
    const range = known.get(key) ?? learnersRange(arrangement, stretch, hands)
    known.set(key, range)
    return range
  }
}

/** Half of what fails is a wrong key, half a key found too late (own choice). */
const WRONG_SHARE = 0.55
/** A stumble costs this many quarter notes. */
const STUMBLE_QUARTERS = 1.5
/**
 * In own time a step takes this multiple of the time it needs, with the errors of this share of the comfortable tempo.
 */
const OWN_TIME = { times: 1.8, load: 0.45 } as const

/** Somebody who learns by playing. Seeded: the same passes on the same days give the same results. */
export interface Learner {
  /** Moves on to a later day of practice: fatigue is gone, and new memories fade. */
  sleep: (days?: number) => void
  /** One time through. `bpm` undefined: in the player's own time. */
  play: (range: LearnersRange, bpm?: number) => LearnerPass
  /** The expected share of right notes at a tempo, without a pass: for experiments, not for the coach. */
  expectedRight: (range: LearnersRange, bpm: number) => number
}

export function createLearner(character: LearnerCharacter, seed: number): Learner {
  const {
    stepSeconds,
    unknownTimes,
    togetherTimes,
    slip,
    steepness,
    stabilityDays,
    spacingGain,
    keptShare,
    cleanRate,
    failedRate,
    satiation,
    sharedAttention,
    ownTimeTeaches,
  } = character
  const memories = new Map<string, Memory>()
  const chance = seededChance(seed)
  let day = 0

  const strengthOf = (key: string): number => {
    const memory = memories.get(key)
    if (!memory) return 0
    const gone = day - memory.lastDay
    if (gone === 0) return memory.strength
    return (
      memory.strength *
      (keptShare + (1 - keptShare) * Math.exp(-gone / (stabilityDays * spacingGain ** (memory.days - 1))))
    )
  }

  const neededSeconds = ({ transitions, together, notes, wayHalfSteps }: Step): number => {
    const base = stepSeconds * (1 + 0.12 * (notes - 1) + 0.025 * Math.max(0, wayHalfSteps - 4))
    const hands = Math.max(...transitions.map(key => unknownTimes ** (1 - strengthOf(key))))
    return base * hands * (together === undefined ? 1 : togetherTimes ** (1 - strengthOf(together)))
  }

  /** The probability that an event fails at a load (time needed ÷ time given): one half at a load of 1. */
  const failure = (load: number): number => slip + (1 - slip) / (1 + Math.exp(-steepness * Math.log2(load)))

  const learn = ({ transitions, together }: Step, isClean: boolean, teaches: number): void => {
    const keys = together === undefined ? transitions : [...transitions, together]
    const unknown = keys.reduce((sum, key) => sum + 1 - strengthOf(key), 0)
    for (const key of keys) {
      const known = memories.get(key)
      const isNewDay = known !== undefined && known.lastDay !== day
      const today = known && !isNewDay ? known.today + 1 : 1
      const rate = (isClean ? cleanRate : failedRate) / (1 + today / satiation)
      const strength = strengthOf(key)
      // Attention is shared: several new things at once each get less of it.
      const attention = teaches / Math.max(1, unknown) ** sharedAttention
      memories.set(key, {
        strength: Math.max(0, strength + rate * attention * (1 - strength)),
        days: (known?.days ?? 1) + (isNewDay ? 1 : 0),
        lastDay: day,
        today,
      })
    }
  }

  return {
    sleep: (days = 1) => {
      day += days
    },
    play(range, bpm) {
      const pass: LearnerPass = {
        events: [],
        failed: [],
        wrong: [],
        load: 0,
        notes: 0,
        right: 0,
        clean: true,
        lengthMs: 0,
      }
      const loads: number[] = []
      for (const step of range) {
        const needed = neededSeconds(step)
        const given = bpm === undefined ? needed * OWN_TIME.times : (step.quarters * 60) / bpm
        const isFailed = chance.happens(failure(bpm === undefined ? OWN_TIME.load : needed / given))
        loads.push(bpm === undefined ? OWN_TIME.load : needed / given)
        pass.events.push(step.place)
        pass.notes += step.notes
        pass.right += step.notes
        pass.lengthMs += 1000 * given
        if (isFailed) {
          pass.failed.push(step.place)
          pass.clean = false
          if (chance.happens(WRONG_SHARE)) {
            pass.right--
            pass.wrong.push(step.place)
          }
          pass.lengthMs += 1000 * STUMBLE_QUARTERS * (bpm === undefined ? needed : 60 / bpm)
        }
        learn(step, !isFailed, bpm === undefined ? ownTimeTeaches : 1)
      }
      pass.load = loads.length > 0 ? median(loads) : 0
      return pass
    },
    expectedRight(range, bpm) {
      const notes = range.reduce((sum, step) => sum + step.notes, 0)
      const wrong = range.reduce(
        (sum, step) => sum + WRONG_SHARE * failure(neededSeconds(step) / ((step.quarters * 60) / bpm)),
        0,
      )
      return 1 - wrong / Math.max(1, notes)
    },
  }
}
