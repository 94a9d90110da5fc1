import type { Hand } from '../music/arrangement'

/**
 * A pause before a written place; `catchUp`: the share of the lag recovered at each following event (0: never, 0.5 by
 * default).
 */
export interface Hesitation {
  bar: number
  beat: number
  ms: number
  catchUp?: number
}

/** After the event at a place the player stops, and starts again a number of events before it. */
export interface Restart {
  bar: number
  beat: number
  eventsBack: number
  pauseMs: number
}

/** Bars left out, first to last, without a gap in time. */
export interface Skip {
  fromBar: number
  toBar: number
}

/** Bars played at another tempo: theirs ÷ the rest's. */
export interface Section {
  fromBar: number
  toBar: number
  tempoRatio: number
}

/** Bars in which quarter notes too many (+) or too few (−) are counted, at their longest step. */
export interface Miscount {
  fromBar: number
  toBar: number
  quarters: number
}

/** A displaced hand: by half steps or white keys; in the bars named or throughout. */
export interface Displacement {
  hand: Hand
  halfSteps?: number
  whiteKeys?: number
  fromBar?: number
  toBar?: number
}

/** How a simulated player plays; with MACHINE everything is exact. */
export interface PlayerHabits {
  /** Standard deviation of the onsets around the beat, ms. */
  jitterMs: number
  /** How much of an event's displacement the next one inherits, 0 to 1: timing errors of neighbours are correlated. */
  jitterMemory: number
  /**
   * `drifting`: each strike correlates with the one before; `independent`: each key for itself; `heavy-tailed`:
   * independent with occasional large errors.
   */
  noise: 'drifting' | 'independent' | 'heavy-tailed'
  /** How far the tempo wanders over bars, percent (a standard deviation). */
  tempoWanderPercent: number
  /** Standard deviation of chord notes around their common time, ms. */
  chordSpreadMs: number
  /** Everything comes this much late (or early), ms. */
  offsetMs: number
  /** The lag of each hand, ms. */
  leftLateMs: number
  rightLateMs: number
  /** Probabilities for each written note. */
  wrong: number
  missed: number
  extra: number
  /** How likely an inner note of a chord is missed, as a multiple of `missed`. */
  missedInnerFactor: number
  /**
   * The kinds of wrong key: a neighbouring key, the chord in another inversion, a forgotten accidental. Relative
   * weights.
   */
  wrongKinds: { beside: number; inversion: number; accidental: number }
  /** Planted errors: written ids, and by how many half steps their key is missed. */
  plantedWrong: Readonly<Record<string, number>>
  /** How much faster than the beat the player runs, percent. */
  rushPercent: number
  /** Take ms for one score ms at the beginning and at the end (a free take). */
  stretch: readonly [from: number, to: number]
  /** By how much the easiest bars are hurried and the hardest held back, percent. */
  rushEasyPercent: number
  slowHardPercent: number
  hesitations: readonly Hesitation[]
  restarts: readonly Restart[]
  skips: readonly Skip[]
  sections: readonly Section[]
  miscounts: readonly Miscount[]
  /** Stops with trial keys: how many before a written place, in a pause of this length that is not recovered. */
  noodles: readonly { bar: number; beat: number; keys: number; ms: number }[]
  /** The player comes in late by this many quarter notes (−: early). */
  lateEntryQuarters: number
  /** The probability that a tied note is struck again. */
  restrikesTies: number
  /** Written names whose accidentals are forgotten: F# is played as F. */
  forgets: readonly string[]
  displaced?: Displacement
  /** A finger, or a key of a hand, that comes late. */
  lateKey?: { hand: Hand; finger?: number; pitch?: number; ms: number }
  /** Repeated bars played only once; or once more than written, after the given time through. */
  repeatNotTaken?: Skip
  repeatAgain?: Skip & { afterTime: number }
  /** Ratio of long to short where the beat is written in two halves or as two thirds and one; undefined: as written. */
  swingRatio?: number
  /** Held time ÷ written time, for each hand. */
  articulation: { right: number; left: number }
  /**
   * MIDI velocity of the accompaniment; how far above it the melody (the highest note of the right hand) lies, and
   * accents.
   */
  velocity: number
  melodySteps: number
  accentSteps: number
  /** Standard deviation of the velocities. */
  velocityJitter: number
  /** How far the pedal comes up behind the change of harmony, ms; undefined: no pedal. */
  pedalLateMs?: number
}

/** Plays exactly what is written. */
export const MACHINE: PlayerHabits = {
  jitterMs: 0,
  jitterMemory: 0.5,
  noise: 'drifting',
  tempoWanderPercent: 0,
  chordSpreadMs: 0,
  offsetMs: 0,
  leftLateMs: 0,
  rightLateMs: 0,
  wrong: 0,
  missed: 0,
  extra: 0,
  missedInnerFactor: 1,
  wrongKinds: { beside: 1, inversion: 0, accidental: 0 },
  plantedWrong: {},
  rushPercent: 0,
  stretch: [1, 1],
  rushEasyPercent: 0,
  slowHardPercent: 0,
  hesitations: [],
  restarts: [],
  skips: [],
  sections: [],
  miscounts: [],
  noodles: [],
  lateEntryQuarters: 0,
  restrikesTies: 0,
  forgets: [],
  articulation: { right: 0.9, left: 0.9 },
  velocity: 64,
  melodySteps: 6,
  accentSteps: 14,
  velocityJitter: 0,
}

/** The simulated players, from what teachers meet every day (common practice). */
export const CHARACTERS = {
  /** Knows every note, plays evenly, with the melody on top. */
  good: { ...MACHINE, jitterMs: 10, chordSpreadMs: 7, velocityJitter: 3 },
  /** Slow and careful; chords are spread a little, inner notes get lost. */
  careful: {
    ...MACHINE,
    jitterMs: 35,
    chordSpreadMs: 40,
    wrong: 0.05,
    missed: 0.04,
    extra: 0.03,
    missedInnerFactor: 1.5,
    wrongKinds: { beside: 6, inversion: 1, accidental: 2 },
    slowHardPercent: 5,
    velocityJitter: 7,
    melodySteps: 2,
    articulation: { right: 0.85, left: 0.85 },
  },
  /** Hurries where it is easy and stumbles where it is not. */
  impatient: {
    ...MACHINE,
    jitterMs: 24,
    chordSpreadMs: 20,
    wrong: 0.06,
    missed: 0.02,
    extra: 0.04,
    rushPercent: 2,
    rushEasyPercent: 6,
    slowHardPercent: 6,
    wrongKinds: { beside: 3, inversion: 1, accidental: 3 },
    velocity: 76,
    velocityJitter: 8,
  },
  /** The notes are right and the fingers unequal. */
  uneven: {
    ...MACHINE,
    jitterMs: 42,
    jitterMemory: 0.1,
    chordSpreadMs: 15,
    wrong: 0.01,
    missed: 0.01,
    velocityJitter: 12,
  },
  /** The left hand comes after the right. */
  lateLeft: { ...MACHINE, jitterMs: 14, chordSpreadMs: 10, leftLateMs: 75, velocityJitter: 5 },
} as const satisfies Record<string, PlayerHabits>

export type Character = keyof typeof CHARACTERS
