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

/** One line for each setting: why it may be set so or otherwise (common practice, on which players differ). */
export const COACH_REASONS: Record<keyof CoachSettings, string> = {
  firstHand: 'The hand with more to learn goes first while you are fresh. Some begin with the tune, to know where the song goes; some with the chords, to carry it.',
  gate: 'Four clean in a row tell knowing from luck. Three is quicker, five is surer, ten makes it even, fifty is for a figure that has to run without thinking.',
  ownTimeGate: 'Right keys before right time: the program waits for your hand. Whoever reads well may leave it out.',
  tempo: 'Steps are plain to see. Adaptive goes up sooner and comes down sooner, around the tempo you can nearly do.',
  steps: 'Small steps are hardly felt; few steps are soon climbed.',
  joining: 'Forward keeps the beginning safest; two by two spreads the work evenly; backward lets every run end in what is best known.',
  chordNames: 'Called ahead, a chord is where the hand goes before it is due. Without, the ear and the page have to do it.',
  counting: 'Counting aloud steadies the rhythm; some find it takes the ear away from the sound.',
  fingering: 'The same fingers each time is what the hand remembers. No keyboard can see them, so strict only shows them.',
  advance: 'With the hands on the keys nobody wants to click. Off: every pass stays until you change it.',
  restBars: 'A bar of silence lets the hand let go; without one the beat goes through.',
  warmUp: 'A few minutes of something known before something hard, as for any other muscle.',
}

/** Ways of practising, each a set of settings. */
export const COACH_PRESETS: Record<'easy-going' | 'thorough' | 'by heart', { why: string, settings: Partial<CoachSettings> }> = {
  'easy-going': { why: 'Soon to the next part; the song is heard early.', settings: { gate: 3, ownTimeGate: 1, steps: 4, tempo: 'steps', restBars: 0 } },
  thorough: { why: 'Every step is sure before the next one.', settings: { gate: 5, ownTimeGate: 2, steps: 6, tempo: 'steps', restBars: 1 } },
  'by heart': { why: 'Until it runs without the page.', settings: { gate: 10, ownTimeGate: 3, steps: 6, tempo: 'steps', restBars: 1, joining: 'backward' } },
}

/** All settings: what the player has set, and the defaults for the rest. */
export const coachSettings = (own: Partial<CoachSettings> = {}): CoachSettings => ({ ...COACH_DEFAULTS, ...own })
