import type { BarTempo } from './tempo-curve'
import type { Hand, Hands } from '../music/arrangement'
import type { ExtraReason, Outcome } from './align'
import type { Condition, Finding, FindingKind } from './finding'
import type { Strictness } from './parameters'

/**
 * The version of the ear. An assessment of an older one is made anew from its take; raise it whenever the same take may
 * be judged otherwise. 1: up to version 0.5 of the program. 2: tempo by stretches, hands, ties, signatures, repeats;
 * clean apart from touch. 3: keys tried out, displaced hands moment by moment. 4: what was hurried after a pause is no
 * other tempo.
 */
export const JUDGE_VERSION = 6

/**
 * `steady`: with the click, from the passage's beginning at its tempo; `free`: both are found; `own-time`: the program
 * waits for the keys.
 */
export type Mode = 'steady' | 'free' | 'own-time'

/** What became of one written note. Times in ms; `deviationMs` + is late. */
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
  /** How far it lies from the middle of its hand's chord, ms; only in chords. */
  spreadMs?: number
  /** How far the key is held into the next note of its line, ms; only where it is. */
  overlapMs?: number
  /** A wrong note that is the right one in another octave. */
  octave?: true
  /** Missed, but its key is the other hand's note at the same moment: one stroke serves both. */
  sharedKey?: true
  /** Which time this written note comes round, when repeats are unfolded and it is not the first. */
  time?: number
}

/**
 * A played note that stands for no written one. `restart`: part of an attempt that was given up; `ornament`: belongs to
 * a trill or turn; `doubled`: sent twice by the keyboard; `restruck`: struck again under its tie; `repeat`: of a repeat
 * that was taken once too often.
 */
export type ExtraNote = { played: number; pitch: number; atMs: number } & Partial<Record<ExtraReason, true>>

/** What is measured of a whole pass. */
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

/** A judged quantity of the whole pass, with what it is judged by. */
export interface Measure {
  name: MeasureName
  /** null: there was nothing to measure it by. */
  value: number | null
  unit: MeasureUnit
  /** The value may lie from `least` to `most`. */
  least?: number
  most?: number
  within: boolean
  /** Where the tolerance comes from. */
  source: ToleranceSource
  /** Figures that the source is told with: a tolerance as a share of the beat, the bounds of a hesitation. */
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
  /** Strokes that stand for nothing and have no excuse (no restart, ornament or doubling). */
  extra: number
  restarts: number
  /** Of the right notes, the share within the tolerance. */
  onTimeShare: number
  /** The tolerance that `onTimeShare` was measured with. */
  onTimeMs: number
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  /** Long to short where beats are in two; null where too few are. And what was asked for there. */
  swingRatio: number | null
  swingAsked: number | null
  /** Middle spread of a hand's chords; null without chords. */
  chordSpreadMs: number | null
  /** How far the left hand comes behind the right where they meet (negative: before it); null where they do not. */
  leftBehindMs: number | null
  /** Middle of held ÷ written time where nothing shorter is marked. */
  articulation: number | null
  /** Melody above accompaniment in steps of MIDI velocity. */
  balanceSteps: number | null
  /** How far the pedal comes up behind the harmony. */
  pedalMs: number | null
  /** Right notes, in time, hands together. */
  clean: boolean
  /** Which of the conditions of a clean pass failed. */
  failed: Condition[]
  /** Large faults of touch, swing, dynamics and pedal, by kind, largest first: they come later in learning. */
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
  /** The version of the ear that judged. */
  ear: number
}
