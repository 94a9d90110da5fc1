import type { Hand } from '../music/arrangement'
import type { Gate } from './evidence'
import type { Experience } from './starting-tempo'

/** Which hand begins a part: the one with more to learn, always the same, or the one with the tune or the chords. */
export type FirstHand = 'harder' | Hand | 'melody' | 'chords'
/**
 * The order of practice: part by part, slow first and tempo last; each part up to its tempo before the next; the first
 * of these from the end backward; or turns between many things.
 */
export type PracticeOrder = 'slow-first' | 'tempo-first' | 'backward' | 'turns'
/** How parts are joined: each onto what is there, or two by two; those of a drill not at all. */
export type Joining = 'forward' | 'pairs' | 'none'
/** Even steps with a gate at each, or an adaptive staircase. */
export type TempoMode = 'steps' | 'adaptive'

/** What practitioners disagree about, for the player to decide. */
export interface CoachSettings {
  /** How much the player can play already: it decides how slowly new notes begin. */
  experience: Experience
  school: PracticeOrder
  /** Which hand begins. */
  firstHand: FirstHand
  /** Clean passes in a row that open a gate, or as many as it takes to be sure that it was no luck. */
  gate: Gate
  /**
   * Passes without a wrong key in the player's own time before the click begins, while the keys are unknown; 0 skips
   * own time.
   */
  ownTimeGate: number
  tempo: TempoMode
  /** Steps from the starting tempo to the target. */
  steps: number
  joining: Joining
  /** Minutes spent on one thing that does not succeed yet; 0 for no limit. */
  turnMinutes: number
  /** The next chord's name is shown before the change. */
  chordNames: boolean
  /** The count stands under the notes. */
  counting: boolean
  /** Strict: the fingers are printed at the notes. The keyboard cannot tell which finger plays. */
  fingering: 'strict' | 'free'
  /** The Stand goes through gates by itself. */
  advance: boolean
  /** Bars of rest between two passes. */
  restBars: number
  /** The session begins with a few minutes of known music. */
  warmUp: boolean
}

/** Whether everything is learned at one slow tempo before any of it is brought up to tempo. */
export const isSlowFirst = ({ school }: Pick<CoachSettings, 'school'>): boolean =>
  school === 'slow-first' || school === 'backward'

export const PRACTICE_ORDERS = ['slow-first', 'tempo-first', 'backward', 'turns'] as const
export const EXPERIENCES = ['new', 'some', 'fluent'] as const satisfies readonly Experience[]
export const GATES = ['sure', 3, 4, 5, 10, 50] as const
export const TURN_MINUTES = [0, 4, 6, 8, 12, 20] as const

export const COACH_DEFAULTS: CoachSettings = {
  experience: 'some',
  school: 'slow-first',
  firstHand: 'harder',
  gate: 'sure',
  ownTimeGate: 1,
  tempo: 'steps',
  steps: 5,
  joining: 'forward',
  turnMinutes: 6,
  chordNames: true,
  counting: false,
  fingering: 'strict',
  advance: true,
  restBars: 0,
  warmUp: true,
}

/** Ways of practising, each a set of settings. */
export const COACH_PRESETS: Record<'easy-going' | 'thorough' | 'by heart', Partial<CoachSettings>> = {
  'easy-going': { gate: 'sure', ownTimeGate: 1, steps: 4, tempo: 'steps', restBars: 0 },
  thorough: { gate: 5, ownTimeGate: 2, steps: 6, tempo: 'steps', restBars: 1 },
  'by heart': { gate: 10, ownTimeGate: 3, steps: 6, tempo: 'steps', restBars: 1, school: 'backward' },
}

/**
 * The parts of a drill are its keys: each goes up to its tempo by itself, with the click from the beginning, since a
 * drill is about evenness; they are not joined.
 */
export const drillSettings = (settings: CoachSettings): CoachSettings => ({
  ...settings,
  school: 'tempo-first',
  joining: 'none',
  ownTimeGate: 0,
})

/** All settings: the player's own, and the defaults for the rest. */
export const coachSettings = (own: Partial<CoachSettings> = {}): CoachSettings => ({ ...COACH_DEFAULTS, ...own })
