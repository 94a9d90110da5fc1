import type { Hand, Hands } from '../music/arrangement'
import type { ExtraReason, Outcome } from './align'
import type { Condition, Finding, FindingKind } from './finding'
import type { Strictness } from './parameters'

/**
 * The version of the judge. An assessment by an older one is computed again from its take; raise it whenever the same
 * take may be judged differently. 1: up to version 0.5 of the program. 2: tempo by segments, hands, ties, signatures,
 * repeats; clean apart from touch. 3: trial keys, displaced hands event by event. 4: hurrying after a pause is not
 * another tempo.
 */
export const JUDGE_VERSION = 6

/**
 * `steady`: with the click, from the passage's beginning at its tempo; `free`: both are found; `own-time`: the program
 * waits for the keys.
 */
export type Mode = 'steady' | 'free' | 'own-time'

/** The outcome of one written note. Times in ms; `deviationMs` + is late. */
export interface NoteAssessment {
  id: string
  hand: Hand
  bar: number
  beat: number
  pitch: number
  outcome: Outcome
  played: number | null
  playedPitch: number | null
  deviationMs: number | null
  /** Held time ÷ written time; null where the keyboard sent no release. */
  articulation: number | null
  velocity: number | null
  /** The written finger, where there is one. */
  finger?: number
  /** Distance from the middle of its hand's chord, ms; only in chords. */
  spreadMs?: number
  /** How long the key is held into the next note of its line, ms; only where it is. */
  overlapMs?: number
  /** The right note in another octave. */
  octave?: true
  /** Missed, but its key is the other hand's note at the same time: one stroke serves both. */
  sharedKey?: true
  /** Which time through an unfolded repeat this is, when it is not the first. */
  time?: number
}

/**
 * A played note that matches no written one. `restart`: part of an abandoned attempt; `ornament`: belongs to a trill or
 * turn; `doubled`: sent twice by the keyboard; `restruck`: struck again under its tie; `repeat`: part of a repeat taken
 * once too often.
 */
export type ExtraNote = { played: number; pitch: number; atMs: number } & Partial<Record<ExtraReason, true>>

/** The quantities measured over a whole pass. */
export type MeasureName =
  | 'onTimeShare'
  | 'offsetMs'
  | 'driftPercent'
  | 'unsteadinessMs'
  | 'hesitations'
  | 'swingRatio'
  | 'chordSpreadMs'
  | 'leftBehindMs'
  | 'articulation'
  | 'balanceSteps'
  | 'pedalMs'
  | 'usualWaitMs'

export type MeasureUnit = '%' | 'ms' | '' | ': 1' | '% of the written length' | 'steps of 127'

/** Where a tolerance comes from: a published value, or common practice. */
export type ToleranceSource =
  | 'noticed-displacement'
  | 'swing-research'
  | 'melody-lead'
  | 'detached'
  | 'melody-above'
  | 'syncopated-pedal'
  | 'common-practice'
  | 'not-judged'

/** A quantity of the whole pass, with its tolerance. */
export interface Measure {
  name: MeasureName
  /** null: nothing to measure. */
  value: number | null
  unit: MeasureUnit
  /** The value may lie from `least` to `most`. */
  least?: number
  most?: number
  within: boolean
  /** Where the tolerance comes from. */
  source: ToleranceSource
  /** The figures that its source text names: a tolerance as a share of the beat, the bounds of a hesitation. */
  toleranceMs?: number
  beatShare?: number
  /** Without a click the tempo is the player's own. */
  withClick?: boolean
}

export interface AssessmentSummary {
  notes: number
  right: number
  wrong: number
  missed: number
  /** Extra strokes that count as errors (not from a restart, ornament or doubling). */
  extra: number
  restarts: number
  /** Share of the right notes within the tolerance. */
  onTimeShare: number
  /** The tolerance used for `onTimeShare`. */
  onTimeMs: number
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  /** Ratio of long to short where beats are divided in two, null where there are too few; and the ratio asked for. */
  swingRatio: number | null
  swingAsked: number | null
  /** Median spread of a hand's chords; null without chords. */
  chordSpreadMs: number | null
  /**
   * How far the left hand comes behind the right at their coincidences (negative: ahead); null without coincidences.
   */
  leftBehindMs: number | null
  /** Median of held ÷ written time where nothing shorter is marked. */
  articulation: number | null
  /** Melody above accompaniment in steps of MIDI velocity. */
  balanceSteps: number | null
  /** How far the pedal comes up behind the change of harmony. */
  pedalMs: number | null
  /** Right notes, in time, hands together. */
  clean: boolean
  /** The conditions of a clean pass that failed. */
  failed: Condition[]
  /** Large faults of touch, swing, dynamics and pedal, largest first: they are worked on later. */
  cleanBut: FindingKind[]
  /**
   * Of all notes due and all extra ones, the share right and on time; a right note off its time counts two thirds. 0 to
   * 100.
   */
  score: number
}

/** The document of docs/scoring.md: everything found in one pass. */
export interface Assessment {
  format: 'half-step/assessment'
  version: 1
  /** `bpm`: quarter notes a minute. `beatBpm`: beats as they are felt, where these are dotted quarters. */
  score: { title: string; bars: string; hands: Hands; bpm: number; beatBpm?: number }
  mode: Mode
  strictness: Strictness
  notes: NoteAssessment[]
  extras: ExtraNote[]
  summary: AssessmentSummary
  measures: Measure[]
  findings: Finding[]
  /** The player's own tempo by bar, where no click gave it. */
  tempos?: BarTempo[]
  /** The version of the judge (JUDGE_VERSION). */
  ear: number
}

/** The played tempo of a bar, in quarter notes a minute; bars by their printed numbers, in the order played. */
export interface BarTempo {
  bar: number
  bpm: number
}
