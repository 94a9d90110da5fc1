import type { MidiPitch } from '../music/pitch'

/** A finger: 1 is the thumb, 5 the little finger. */
export type Finger = 1 | 2 | 3 | 4 | 5

/** How far two fingers reach, in half steps from the first to the second, for the right hand going up. */
export interface Span { minPractical: number, minComfortable: number, minRelaxed: number, maxRelaxed: number, maxComfortable: number, maxPractical: number }

const span = (minPractical: number, minComfortable: number, minRelaxed: number, maxRelaxed: number, maxComfortable: number, maxPractical: number): Span =>
  ({ minPractical, minComfortable, minRelaxed, maxRelaxed, maxComfortable, maxPractical })

/** Spans of finger pairs of the right hand (Parncutt, Sloboda, Clarke, Raekallio & Desain 1997, Music Perception 14, table 1, from memory). */
export const SPANS: Readonly<Record<string, Span>> = {
  12: span(-5, -3, 1, 5, 8, 10), 13: span(-4, -2, 3, 7, 10, 12), 14: span(-3, -1, 5, 9, 12, 14), 15: span(-1, 1, 7, 10, 13, 15),
  23: span(1, 1, 1, 2, 3, 5), 24: span(1, 1, 3, 4, 5, 7), 25: span(2, 2, 5, 6, 8, 10),
  34: span(1, 1, 1, 2, 2, 4), 35: span(1, 1, 3, 4, 5, 7), 45: span(1, 1, 1, 2, 3, 5),
}
/** The reach from thumb to little finger for which the table stands, half steps. */
export const TABLE_REACH = 15

/**
 * What each kind of effort costs. The rules are those of Parncutt and others (1997, from memory); the weights are own choice, searched so
 * that the usual fingerings of scales and arpeggios come out.
 */
export const EFFORT = {
  /** A half step beyond what is comfortable; within that, a half step from relaxed, for a pair with the thumb and without. */
  stretch: 2, spanThumb: 0.55, spanOther: 1.6,
  /** Fingers 4 and 5. */
  weak: { 4: 0.45, 5: 0.3 } as Readonly<Record<number, number>>,
  /** 3 and 4 after each other; more with 4 on a black key. */
  threeFour: 0.28, fourOnBlack: 1.95,
  /** Thumb or little finger on a black key, and more next to white keys. */
  thumbOnBlack: 3.65, fiveOnBlack: 2.8, besideWhite: 1.85,
  /** The thumb passes under (or a finger over it): from a black key to a white one, on one level, and from white to a black thumb. */
  passBlackToWhite: 4.6, passLevel: 6.6, passToBlack: 5.2,
  /** Passing with this finger over or under. */
  passWith: { 2: 2.0, 3: 0.7, 4: 0.8, 5: 8 } as Readonly<Record<number, number>>,
  /** The arm helps the thumb under in broken chords: so far, half steps, and what each one costs beyond a comfortable pass. */
  farthestPass: 7, farPass: { 2: 0.8, 3: 0.5, 4: 1.0 } as Readonly<Record<number, number>>,
  /** The same finger on another key at once; in a leap the hand moves anyway. */
  sameFinger: 9.7,
  /** The hand moves as a whole: at all, and for each half step up to an octave. */
  shiftAtAll: 9, shift: 0.35,
  /** Three notes in a row that do not lie under one position of the hand; with the thumb passing and out of reach. */
  positionChange: 1, fullPositionChange: 2,
  /** In a chord the whole hand lies further in, and black keys are little hardship: so much of it. */
  blackInChord: 0.05,
  /** Another finger on the same key: struck again, slowly; struck again fast with the same finger; changed while held. */
  change: 1.6, hurriedRepeat: 2.5, hurriedMs: 130, substitution: 5,
  /** A chord's hand is where its fingers lie at rest: for each half step that it has moved from the one before. */
  chordShift: 0.4,
  /** A finger other than the one that a scale's usual fingering has for this key, inside a run. */
  offScalePattern: 2.6, offScalePatternAtEnds: 0.8,
  /** At the beginning of a way outward, a finger that leaves the hand less room: for each finger from the thumb. */
  start: 1.6,
  /** A chord that leaves the little finger idle, for each finger: the hand lies open over it (common practice: a triad is 1 3 5). */
  idleTop: 0.3,
  /** More than the hand reaches: only where there is no other way. */
  beyondReach: 60,
} as const

export const isBlack = (pitch: MidiPitch): boolean => [1, 3, 6, 8, 10].includes(((pitch % 12) + 12) % 12)

/** The span of two fingers, from the smaller number to the larger, for a hand of this reach. */
export function spanOf(low: Finger, high: Finger, reach: number): Span {
  const table = SPANS[`${low}${high}`]!
  if (reach === TABLE_REACH) return table
  const scale = reach / TABLE_REACH
  return { ...table, maxRelaxed: table.maxRelaxed * scale, maxComfortable: table.maxComfortable * scale, maxPractical: table.maxPractical * scale }
}

/** Where the fingers lie at rest over white keys, half steps from the thumb. */
export const AT_REST: Readonly<Record<Finger, number>> = { 1: 0, 2: 2, 3: 4, 4: 5, 5: 7 }
