import type { Hand } from '../music/arrangement'

/** Which hand begins a part: the one with more to learn, always the same, or the one that has the tune or the chords. */
export type FirstHand = 'harder' | Hand | 'melody' | 'chords'
/** How parts grow together: each onto what is there from the beginning, two by two, or from the end backward. */
export type Joining = 'forward' | 'pairs' | 'backward'
/** Even steps with a gate at each, or a staircase that feels its way. */
export type TempoMode = 'steps' | 'adaptive'

/** What practitioners disagree about, and the player decides. */
export interface CoachSettings {
  firstHand: FirstHand
  /** Clean passes in a row that open a gate. */
  gate: number
  /** Passes without a wrong key in the player's own time before the click begins; 0 leaves own time out. */
  ownTimeGate: number
  tempo: TempoMode
  /** Steps from the starting tempo to the target. */
  steps: number
  joining: Joining
  /** The next chord's name is shown before the change. */
  chordNames: boolean
  /** The count stands under the notes. */
  counting: boolean
  /** Strict: the fingers stand at the notes. The keyboard cannot tell which finger plays. */
  fingering: 'strict' | 'free'
  /** The Stand goes on through gates by itself. */
  advance: boolean
  /** Bars of rest between two passes. */
  restBars: number
  /** The session begins with a few minutes of what is known. */
  warmUp: boolean
}

export const GATES = [3, 4, 5, 10, 50] as const

export const COACH_DEFAULTS: CoachSettings = {
  firstHand: 'harder', gate: 4, ownTimeGate: 4, tempo: 'steps', steps: 5, joining: 'forward',
  chordNames: true, counting: false, fingering: 'strict', advance: true, restBars: 0, warmUp: true,
}

/** Ways of practising, each a set of settings. */
export const COACH_PRESETS: Record<'easy-going' | 'thorough' | 'by heart', Partial<CoachSettings>> = {
  'easy-going': { gate: 3, ownTimeGate: 1, steps: 4, tempo: 'steps', restBars: 0 },
  thorough: { gate: 5, ownTimeGate: 2, steps: 6, tempo: 'steps', restBars: 1 },
  'by heart': { gate: 10, ownTimeGate: 3, steps: 6, tempo: 'steps', restBars: 1, joining: 'backward' },
}

/** All settings: what the player has set, and the defaults for the rest. */
export const coachSettings = (own: Partial<CoachSettings> = {}): CoachSettings => ({ ...COACH_DEFAULTS, ...own })
