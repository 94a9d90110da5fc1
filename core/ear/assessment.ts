import type { Hand, Hands } from '../music/arrangement'
import type { Outcome } from './align'

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
  /** Held time ÷ written time. */
  articulation: number | null
  velocity: number | null
  /** A wrong note that is the right one in another octave. */
  octave?: true
  /** Which time this written note comes round, when repeats are unfolded and it is not the first. */
  time?: number
}

export interface ExtraNote { played: number, pitch: number, atMs: number }

export type FindingKind
  = | 'wrong-note' | 'missed-note' | 'extra-note' | 'octave' | 'hesitation' | 'late' | 'early'
    | 'rushing' | 'dragging' | 'uneven' | 'chord-spread' | 'hands-apart' | 'clean'

/** One thing found in a pass; `text` is the sentence for the player. */
export interface Finding {
  kind: FindingKind
  text: string
  hand?: Hand
  bar?: number
  beat?: number
  ms?: number
  percent?: number
  because?: string
}

export interface AssessmentSummary {
  notes: number
  right: number
  wrong: number
  missed: number
  extra: number
  /** Of the right notes, the share within the tolerance. */
  onTimeShare: number
  /** The tolerance that `onTimeShare` was measured with. */
  onTimeMs: number
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  clean: boolean
  /** Of all notes due and all extra ones, the share right and on time; a right note off its time counts two thirds. 0 to 100. */
  score: number
}

/** The document of docs/scoring.md: everything found in one pass. */
export interface Assessment {
  format: 'half-step/assessment'
  version: 1
  score: { title: string, bars: string, hands: Hands, bpm: number }
  mode: 'steady' | 'free'
  notes: NoteAssessment[]
  extras: ExtraNote[]
  summary: AssessmentSummary
  findings: Finding[]
}
