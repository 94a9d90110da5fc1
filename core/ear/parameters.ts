/**
 * Every number the ear goes by, with its unit and where it comes from. "own choice" marks a value chosen for this
 * program and tuned on its simulated players; it is data, so that it can be argued with (docs/scoring.md).
 */

/** What following a player through the score goes by: negative log probabilities, up to a constant (own choice). */
export interface FollowingParameters {
  /** A stroke that stands for nothing; each further one in a row; before the music has begun, this share of it. */
  extra: number
  extraMore: number
  noodleShare: number
  /** A note of a moment never struck, and the most that one moment's notes cost together. */
  missed: number
  missedMoment: number
  /**
   * A wrong key within a whole step or an octave off; one farther away; one as far off as the wrong key before it (a
   * shifted hand).
   */
  wrongNear: number
  wrongFar: number
  sameShift: number
  /** A note of an earlier moment, and how many moments back it may belong. */
  late: number
  lateMoments: number
  /** How late (beats) makes it unlikely. */
  lateBeats: number
  /** A further stroke of a trill or turn; a note struck again under its tie. */
  ornament: number
  restruck: number
  /** Chord notes may fall so far apart, ms (spread chords of beginners reach 150). */
  chordMs: number
  /**
   * The most that time can say against a step, and against a late one after keys that were tried out; and the doubt
   * about it: ms, and a share of the step.
   */
  time: number
  timeTried: number
  timeMs: number
  timeShare: number
  /** The most that the click can say against a note, and how far from it (beats) says half of it. */
  click: number
  clickBeats: number
  /** How fast a player who lags behind the click is believed to go on so, a share for each moment. */
  lagShare: number
  /**
   * Going on from another place; the same after a pause; beginning elsewhere than at the beginning; what the very
   * beginning, and a bar's beginning, are worth.
   */
  jump: number
  jumpDistance: number
  jumpAfterPause: number
  jumpIn: number
  fromTheTop: number
  fromTheBar: number
  /** A repeat that is left out, or taken once more than written. */
  turn: number
  /** What a restart costs when the whole take is weighed: going back is commoner than leaving out. */
  restart: number
  /** A stroke that costs no more is what was expected: nobody has jumped. */
  asExpected: number
  /** A pause this long (beats) makes a new start likelier. */
  pauseBeats: number
  /** How far a jump may go, in moments, and how far a step without one. */
  jumpMoments: number
  reachMoments: number
  /** Beliefs this much dearer than the best are given up; the same when there are very many. */
  prune: number
  pruneMany: number
}

/**
 * What pairing strokes with notes goes by: negative log probabilities (own choice, from 5 % wrong, 4 % missed, 3 %
 * extra).
 */
export interface PairingParameters {
  missed: number
  /** A note whose key another voice strikes at the same moment. */
  shared: number
  extra: number
  /** A further stroke of an ornament; a note struck again under its tie. */
  ornament: number
  restruck: number
  wrong: number
  /** Added by distance on the keyboard: up to a whole step, an octave, a fifth, an octave's width, farther. */
  beside: number
  octave: number
  near: number
  far: number
  elsewhere: number
  /** The most that time can say against a right key within reach. */
  mostRight: number
  /** A right key cheaper than this, with no rival, is settled at once. */
  certain: number
  /** The unsteadiness a player is granted at least and at most, ms. */
  leastSpreadMs: number
  /** A wrong key is granted at least this much: who misses a key misses its time too. */
  wrongSpreadMs: number
  mostSpreadMs: number
  /** How far from its due time a right key is still looked for: beats, and at least and at most ms. */
  reachBeats: number
  leastReachMs: number
  mostReachMs: number
  /** How much looser in time grace notes, rolled chords and ornaments are. */
  graceLooseness: number
  rolledLooseness: number
  /**
   * Two strokes of one key nearer than this are one, doubled by the keyboard, ms (common practice: no hand repeats so
   * fast).
   */
  doubledMs: number
}

/** What deciding at once goes by, before the whole pass is known (own choice). */
export interface LiveParameters {
  /** How far from its due time another key may stand for a note: beats, and at least and at most ms. */
  wrongBeats: number
  wrongMinMs: number
  wrongMaxMs: number
  /** A player believed to be this far from the click (beats) has taken up again elsewhere. */
  awayBeats: number
}

/** What is asked of a player. One set for each strictness. */
export interface Tolerances {
  /**
   * On time: this share of a beat, at least and at most so many ms. Several times the smallest displacement a listener
   * notices (about 2.5 % of the interval, 6 ms below 240 ms; Friberg & Sundberg 1995, from memory).
   */
  onTimeBeats: number
  onTimeMinMs: number
  onTimeMaxMs: number
  /**
   * A pass is clean when at least this share of its right notes is on time (own choice: a stray in twenty is no fault).
   */
  cleanOnTimeShare: number
  /**
   * A hesitation: a moment comes this much later than the local tempo explains. A share of the step, at least and at
   * most so many ms, and at least so many times the player's own unsteadiness (own choice).
   */
  hesitationShare: number
  hesitationMinMs: number
  hesitationMaxMs: number
  hesitationSpreads: number
  /** Always ahead of or behind the click, as a share of the on-time tolerance (own choice). */
  offsetShare: number
  /** A tempo that runs away by this much over the pass, percent (a listener notices about 2.5). */
  driftPercent: number
  /** Unsteadiness, as a share of the on-time tolerance (own choice). */
  unevenShare: number
  /** Chord notes meant together, ms (melody lead in expert chords is about 30, Goebl 2001, from memory). */
  chordSpreadMs: number
  /** Hands meant together: the middle difference, ms. */
  handsApartMs: number
  /**
   * Long to short of swung eighths may differ from what is asked by this factor (own choice; a listener tells about 2:1
   * from 1.6:1).
   */
  swingFactor: number
  /** Other divisions of the beat may lie off by this share of it (own choice). */
  divisionShare: number
  /**
   * Held time ÷ written time below which a line not marked staccato is released early (common practice: detached is
   * about a half).
   */
  releasedShare: number
  /**
   * A key held into the next note of its line for this share of it and this many ms blurs it (own choice; finger legato
   * overlaps by less than 100 ms).
   */
  blurredShare: number
  blurredMs: number
  /**
   * Steps of MIDI velocity: melody below accompaniment, an accent not above its neighbours, a note that sticks out (own
   * choice).
   */
  balanceSteps: number
  accentSteps: number
  stickOutSteps: number
  /** A crescendo or diminuendo goes the right way by this many steps of velocity from end to end. */
  shapeSteps: number
  /**
   * The pedal may come up this long before and after the harmony changes, ms (own choice; in syncopated pedalling it
   * comes up as the new chord goes down).
   */
  pedalEarlyMs: number
  pedalLateMs: number
}

/**
 * What reading the course of the tempo goes by: negative log probabilities up to a constant, shares and logarithms of
 * tempo ratios (own choice).
 */
export interface TempoParameters {
  /** Steps shorter than so many quarter notes say nothing of the tempo by themselves. */
  leastStepQuarters: number
  /** The unsteadiness granted at least, ms, and the share of a step by which tempo lives. */
  leastSpreadMs: number
  spreadShare: number
  /**
   * A change of tempo; a tempo that bends by one place of the grid; a step that falls out of the tempo, and from how
   * many spreads on it did.
   */
  changes: number
  bends: number
  fallsOut: number
  fallsOutSpreads: number
  /** With a click: beginning at another tempo than the click's, and how near to it (log) is the same. */
  otherThanAsked: number
  nearlyAsked: number
  /** A stretch of fewer steps or quarter notes has no tempo of its own; neighbours nearer than this (log) are one. */
  leastSteps: number
  leastQuarters: number
  alike: number
  /**
   * A faster stretch that ends this near to where the tempo before it would have led, as a share of the time it saved,
   * made up for a pause (own choice).
   */
  madeUpShare: number
  /**
   * From here on (log of the ratio) a tempo is another one, not a drift: against the click, and among a player's own
   * tempos.
   */
  otherTempo: number
  otherOwnTempo: number
  /** A whole take went at another tempo when so much of it did. */
  mostOfTheTake: number
  /** Beats too many or too few: how near to a whole number, in beats. */
  nearWholeBeats: number
  /** From so many beats on the player came in late rather than plays late. */
  entryBeats: number
}

export interface EarParameters {
  tempo: TempoParameters
  following: FollowingParameters
  pairing: PairingParameters
  live: LiveParameters
  tolerances: Tolerances
  /** Moments on which the local tempo of a free take rests, and where it bends (own choice). */
  localTempoMoments: number
  bendingTempoMoments: number
}

export type Strictness = 'gentle' | 'normal' | 'strict'
export const STRICTNESSES: readonly Strictness[] = ['gentle', 'normal', 'strict']

const NORMAL: Tolerances = {
  onTimeBeats: 0.12,
  onTimeMinMs: 65,
  onTimeMaxMs: 120,
  cleanOnTimeShare: 0.95,
  hesitationShare: 0.2,
  hesitationMinMs: 140,
  hesitationMaxMs: 200,
  hesitationSpreads: 4.3,
  offsetShare: 0.4,
  driftPercent: 2.5,
  unevenShare: 0.38,
  chordSpreadMs: 70,
  handsApartMs: 40,
  swingFactor: 1.2,
  divisionShare: 0.06,
  releasedShare: 0.6,
  blurredShare: 0.35,
  blurredMs: 110,
  balanceSteps: 4,
  accentSteps: 4,
  stickOutSteps: 24,
  shapeSteps: 4,
  pedalEarlyMs: 120,
  pedalLateMs: 180,
}

/**
 * Every time tolerance of the level in proportion to the normal one: for the first passes of a part, and for a player
 * who wants to know.
 */
const scaled = (factor: number): Tolerances => ({
  ...NORMAL,
  onTimeBeats: NORMAL.onTimeBeats * factor,
  onTimeMinMs: NORMAL.onTimeMinMs * factor,
  onTimeMaxMs: NORMAL.onTimeMaxMs * factor,
  hesitationShare: NORMAL.hesitationShare * factor,
  hesitationMinMs: NORMAL.hesitationMinMs * factor,
  hesitationMaxMs: NORMAL.hesitationMaxMs * factor,
  driftPercent: NORMAL.driftPercent * factor,
  chordSpreadMs: NORMAL.chordSpreadMs * factor,
  handsApartMs: NORMAL.handsApartMs * factor,
  divisionShare: NORMAL.divisionShare * factor,
  blurredMs: NORMAL.blurredMs * factor,
  pedalEarlyMs: NORMAL.pedalEarlyMs * factor,
  pedalLateMs: NORMAL.pedalLateMs * factor,
})

/** `normal` suits an adult beginner at half tempo; `strict` is still three times what a listener can just notice. */
export const TOLERANCES: Record<Strictness, Tolerances> = {
  gentle: { ...scaled(1.5), cleanOnTimeShare: 0.9, swingFactor: 1.35 },
  normal: NORMAL,
  strict: { ...scaled(0.65), cleanOnTimeShare: 0.97, swingFactor: 1.15 },
}

export const DEFAULT_EAR: EarParameters = {
  following: {
    extra: 4,
    extraMore: 3.6,
    noodleShare: 0.8,
    missed: 1.6,
    missedMoment: 4,
    wrongNear: 3,
    wrongFar: 3.8,
    sameShift: 1.2,
    late: 1.6,
    lateMoments: 3,
    lateBeats: 0.6,
    ornament: 0.3,
    restruck: 1.6,
    chordMs: 110,
    time: 3.5,
    timeTried: 1.4,
    timeMs: 45,
    timeShare: 0.2,
    click: 2,
    clickBeats: 0.3,
    lagShare: 0.25,
    jump: 9,
    jumpDistance: 0.3,
    jumpAfterPause: 7,
    jumpIn: 5,
    fromTheTop: 1.5,
    fromTheBar: 1,
    turn: 4,
    restart: 6,
    asExpected: 0.6,
    pauseBeats: 1.6,
    jumpMoments: 700,
    reachMoments: 6,
    prune: 10,
    pruneMany: 6,
  },
  pairing: {
    missed: 3.5,
    shared: 0.5,
    extra: 4.5,
    ornament: 0.5,
    restruck: 3,
    wrong: 2.6,
    beside: 1.4,
    octave: 1.4,
    near: 2,
    far: 2.4,
    elsewhere: 3,
    mostRight: 6,
    certain: 2.2,
    leastSpreadMs: 18,
    wrongSpreadMs: 40,
    mostSpreadMs: 90,
    reachBeats: 0.9,
    leastReachMs: 250,
    mostReachMs: 900,
    graceLooseness: 3,
    rolledLooseness: 4,
    doubledMs: 40,
  },
  tempo: {
    leastStepQuarters: 0.45,
    leastSpreadMs: 10,
    spreadShare: 0.03,
    changes: 10,
    bends: 1.5,
    fallsOut: 7,
    fallsOutSpreads: 4,
    otherThanAsked: 4,
    nearlyAsked: 0.08,
    leastSteps: 3,
    leastQuarters: 1.9,
    alike: 0.08,
    madeUpShare: 0.5,
    otherTempo: Math.log(1.12),
    otherOwnTempo: Math.log(1.17),
    mostOfTheTake: 0.7,
    nearWholeBeats: 0.2,
    entryBeats: 0.75,
  },
  live: { wrongBeats: 0.4, wrongMinMs: 150, wrongMaxMs: 350, awayBeats: 0.6 },
  tolerances: NORMAL,
  localTempoMoments: 15,
  bendingTempoMoments: 5,
}

/** The ear with the tolerances of a strictness. What is heard is the same at each; only what is asked differs. */
export const earFor = (strictness: Strictness): EarParameters => ({
  ...DEFAULT_EAR,
  tolerances: TOLERANCES[strictness],
})

const between = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value))

/** How far from its due time a right key is still taken for its note, in ms, at a beat of `beatMs`. */
export const matchWindowMs = ({ pairing }: EarParameters, beatMs: number): number =>
  between(pairing.reachBeats * beatMs, pairing.leastReachMs, pairing.mostReachMs)

/** How far from its due time another key is at once taken to stand for a note, in ms. */
export const wrongWindowMs = ({ live }: EarParameters, beatMs: number): number =>
  between(live.wrongBeats * beatMs, live.wrongMinMs, live.wrongMaxMs)

/** How far from its due time a note is still on time, in ms. */
export const onTimeMs = ({ tolerances }: EarParameters, beatMs: number): number =>
  between(tolerances.onTimeBeats * beatMs, tolerances.onTimeMinMs, tolerances.onTimeMaxMs)
