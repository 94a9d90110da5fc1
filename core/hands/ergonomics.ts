import type { MidiPitch } from '../music/pitch'

/** A finger: 1 is the thumb, 5 the little finger. */
export type Finger = 1 | 2 | 3 | 4 | 5

/** How far two fingers reach, in half steps from the first to the second, for the right hand going up. */
export interface Span {
  minPractical: number
  minComfortable: number
  minRelaxed: number
  maxRelaxed: number
  maxComfortable: number
  maxPractical: number
}

const span = (
  minPractical: number,
  minComfortable: number,
  minRelaxed: number,
  maxRelaxed: number,
  maxComfortable: number,
  maxPractical: number,
): Span => ({ minPractical, minComfortable, minRelaxed, maxRelaxed, maxComfortable, maxPractical })

/**
 * Spans of finger pairs of the right hand (Parncutt, Sloboda, Clarke, Raekallio & Desain 1997, Music Perception 14,
 * table 1, unchecked).
 */
export const SPANS: Readonly<Record<string, Span>> = {
  12: span(-5, -3, 1, 5, 8, 10),
  13: span(-4, -2, 3, 7, 10, 12),
  14: span(-3, -1, 5, 9, 12, 14),
  15: span(-1, 1, 7, 10, 13, 15),
  23: span(1, 1, 1, 2, 3, 5),
  24: span(1, 1, 3, 4, 5, 7),
  25: span(2, 2, 5, 6, 8, 10),
  34: span(1, 1, 1, 2, 2, 4),
  35: span(1, 1, 3, 4, 5, 7),
  45: span(1, 1, 1, 2, 3, 5),
}
/** What a player may set, half steps: a fifth to an octave and a fifth. */
export const MIN_REACH = 7
export const MAX_REACH = 19
export const REACHES_HALF_STEPS: readonly number[] = Array.from(
  { length: MAX_REACH - MIN_REACH + 1 },
  (_, above) => MIN_REACH + above,
)
/** The reach from thumb to little finger for which the table stands, half steps. */
export const TABLE_REACH = 15

/**
 * What each kind of effort costs. The rules are those of Parncutt and others (1997, unchecked); the weights are own
 * choice, searched so that the usual fingerings of scales and arpeggios come out.
 */
export const EFFORT = {
  /**
   * A half step beyond what is comfortable; within that, a half step from relaxed, for a pair with the thumb and
   * without.
   */
  stretch: 4.17,
  spanThumb: 0.446,
  spanOther: 0.5,
  /** Fingers 4 and 5. */
  weak: { 4: 0.26, 5: 0.25 } as Readonly<Record<number, number>>,
  /** 3 and 4 after each other; more with 4 on a black key. */
  threeFour: 0.254,
  fourOnBlack: 0.111,
  /**
   * Thumb or little finger on a black key, and more next to white keys that are near: in a wide position the hand lies
   * over both anyway.
   */
  thumbOnBlack: 4.92,
  fiveOnBlack: 1.22,
  besideWhite: 2.85,
  besideHalfSteps: 5,
  /**
   * The thumb passes under (or a finger over it): from a black key to a white one, on one level, and from white to a
   * black thumb.
   */
  passBlackToWhite: 4.77,
  passLevel: 3.91,
  passToBlack: 3.8,
  /** Passing with this finger over or under. */
  passWith: { 2: 0.589, 3: 0.05, 4: 0.274, 5: 8 } as Readonly<Record<number, number>>,
  /**
   * The arm helps the thumb under in broken chords: so far, half steps, and what each one costs beyond a comfortable
   * pass.
   */
  farthestPass: 7,
  farPass: { 2: 1.187, 3: 1.122, 4: 0.851 } as Readonly<Record<number, number>>,
  /** The same finger on another key at once; in a leap the hand moves anyway. */
  sameFinger: 14.3,
  /** The hand moves as a whole: at all, and for each half step up to an octave. */
  shiftAtAll: 7.939,
  shift: 0.7875,
  /** Three notes in a row that do not lie under one position of the hand; with the thumb passing and out of reach. */
  positionChange: 0.997,
  fullPositionChange: 1.224,
  /** In a chord the whole hand lies further in, and black keys are little hardship: so much of it. */
  blackInChord: 0.05,
  /**
   * Another finger on the same key: struck again, slowly; struck again fast with the same finger; changed while held.
   */
  change: 1.6,
  hurriedRepeat: 2.5,
  hurriedMs: 130,
  substitution: 5,
  /** A chord's hand is where its fingers lie at rest: for each half step that it has moved from the one before. */
  chordShift: 0.15,
  /** At the beginning of a way outward, a finger that leaves the hand less room: for each finger from the thumb. */
  start: 0.629,
  /** A chord's keys that lie off the fingers, more than in its usual shape: for each half step. */
  offShape: 1.5,
  /**
   * A chord that leaves the little finger idle, for each finger: the hand lies open over it (common practice: a triad
   * is 1 3 5).
   */
  idleTop: 1,
  /** More than the hand reaches: only where there is no other way. */
  beyondReach: 60,
} as const

export const isBlack = (pitch: MidiPitch): boolean => [1, 3, 6, 8, 10].includes(((pitch % 12) + 12) % 12)

/**
 * The span of two fingers, from the smaller number to the larger, for a hand of this reach: wide spans grow and shrink
 * with it, whole half steps at a time.
 */
export function spanOf(low: Finger, high: Finger, reach: number): Span {
  const table = SPANS[`${low}${high}`]!
  if (reach === TABLE_REACH) return table
  const scaled = (halfSteps: number) => halfSteps + Math.round((halfSteps * (reach - TABLE_REACH)) / TABLE_REACH)
  return {
    ...table,
    maxRelaxed: scaled(table.maxRelaxed),
    maxComfortable: scaled(table.maxComfortable),
    maxPractical: scaled(table.maxPractical),
  }
}

/** Where the fingers lie at rest over white keys, half steps from the thumb. */
export const AT_REST: Readonly<Record<Finger, number>> = { 1: 0, 2: 2, 3: 4, 4: 5, 5: 7 }
