/**
 * Every number the judge uses, with its unit and source. "own choice" marks a value chosen for this program and tuned
 * on its simulated players; they are data, so that they can be discussed (docs/scoring.md).
 */

/** Parameters of following a player through the score: negative log probabilities, up to a constant (own choice). */
export interface FollowingParameters {
  /** An extra stroke; each further one in a row; and, before the music has begun, the share of it that counts. */
  extra: number
  extraMore: number
  prestartFactor: number
  /** A note of an event never struck, and the most that one event's notes cost together. */
  missed: number
  missedEvent: number
  /**
   * A wrong key within a whole step or an octave off; one farther away; one as far off as the last wrong key (a
   * displaced hand).
   */
  wrongNear: number
  wrongFar: number
  sameShift: number
  /** A note of an earlier event, and how many events back it may belong. */
  late: number
  lateEvents: number
  /** The lateness (beats) at which this becomes unlikely. */
  lateBeats: number
  /** A further stroke of a trill or turn; a note struck again under its tie. */
  ornament: number
  restruck: number
  /** Window for the notes of a chord, ms (spread chords of beginners reach 150). */
  chordMs: number
  /**
   * The largest timing penalty of a step; the same for a late step after trial keys; and the uncertainty of the
   * expected time: ms, and a share of the step.
   */
  time: number
  timePenaltyAfterTrial: number
  timeMs: number
  timeShare: number
  /** The largest penalty for distance from the click, and the distance (beats) of half of it. */
  click: number
  clickBeats: number
  /** How fast a lag behind the click is learned, a share for each event. */
  lagShare: number
  /**
   * A jump; its distance factor; a jump after a pause; beginning elsewhere than at the start; and what is subtracted
   * for the very start and for the start of a bar.
   */
  jump: number
  jumpDistance: number
  jumpAfterPause: number
  jumpIn: number
  fromTheTop: number
  fromTheBar: number
  /** A repeat left out, or taken once more than written. */
  repeatJump: number
  /** A restart, when a whole take is weighed: going back is commoner than skipping. */
  restart: number
  /** Jumps are tried only when the cheapest step costs more than this. */
  jumpThreshold: number
  /** A pause this long (beats) makes a jump likelier. */
  pauseBeats: number
  /** The longest jump, and the longest step without a jump, in events. */
  jumpEvents: number
  reachEvents: number
  /** Hypotheses costlier than the best by this are pruned; and the tighter threshold when there are many. */
  prune: number
  pruneMany: number
}

/**
 * Parameters of pairing strokes with notes: negative log probabilities (own choice, from 5 % wrong, 4 % missed, 3 %
 * extra).
 */
export interface PairingParameters {
  missed: number
  /** A note whose key another voice strikes at the same time. */
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
  /** The largest timing penalty for a right key within reach. */
  maxTimePenalty: number
  /** A right key cheaper than this, with no rival, is assigned at once. */
  certain: number
  /** Bounds of the unsteadiness granted to a player, ms. */
  minSpreadMs: number
  /** The smallest spread granted to a wrong key: a missed key is often mistimed too. */
  wrongSpreadMs: number
  maxSpreadMs: number
  /** How far from its due time a right key is searched for: beats, and its bounds in ms. */
  reachBeats: number
  minReachMs: number
  maxReachMs: number
  /** How much looser in time grace notes, rolled chords and ornaments are. */
  graceLooseness: number
  rolledLooseness: number
  /**
   * Two strokes of one key nearer than this are one, doubled by the keyboard, ms (common practice: no hand repeats this
   * fast).
   */
  doubledMs: number
}

/** Parameters of judging live, before the whole pass is known (own choice). */
export interface LiveParameters {
  /** How far from its due time another key may be meant for a note: beats, and its bounds in ms. */
  wrongBeats: number
  wrongMinMs: number
  wrongMaxMs: number
  /** A player this far from the click (beats) has jumped. */
  awayBeats: number
}

/** The tolerances of one strictness. */
export interface Tolerances {
  /**
   * On time: a share of a beat, with bounds in ms. Several times the smallest displacement a listener notices (about
   * 2.5 % of the interval, 6 ms below 240 ms; Friberg & Sundberg 1995, unchecked).
   */
  onTimeBeats: number
  onTimeMinMs: number
  onTimeMaxMs: number
  /** Share of the right notes that must be on time in a clean pass (own choice: one stray in twenty is no fault). */
  cleanOnTimeShare: number
  /**
   * A hesitation: an event later than the local tempo explains by a share of the step, with bounds in ms, and by this
   * multiple of the player's own unsteadiness (own choice).
   */
  hesitationShare: number
  hesitationMinMs: number
  hesitationMaxMs: number
  hesitationSpreads: number
  /** Constant offset from the click, as a share of the on-time tolerance (own choice). */
  offsetShare: number
  /** Drift of the tempo over the pass, percent (a listener notices about 2.5). */
  driftPercent: number
  /** Unsteadiness, as a share of the on-time tolerance (own choice). */
  unevenShare: number
  /** Spread of chord notes meant together, ms (melody lead in expert chords is about 30, Goebl 2001, unchecked). */
  chordSpreadMs: number
  /** Hands meant together: the median difference, ms. */
  handsApartMs: number
  /**
   * Factor by which the long-to-short ratio of swung eighths may differ from what is asked (own choice; a listener
   * tells 2:1 from 1.6:1).
   */
  swingFactor: number
  /** How far other divisions of the beat may be off, as a share of it (own choice). */
  divisionShare: number
  /**
   * Held time ÷ written time below which a line not marked staccato is released early (common practice: detached is
   * about a half).
   */
  releasedShare: number
  /**
   * Holding a key into the next note of its line for this share of it and this many ms blurs it (own choice; finger
   * legato overlaps by less than 100 ms).
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
  /** Velocity steps from end to end that a crescendo or diminuendo needs. */
  shapeSteps: number
  /**
   * The pedal may come up this long before and after the harmony changes, ms (own choice; in syncopated pedalling it
   * comes up as the new chord goes down).
   */
  pedalEarlyMs: number
  pedalLateMs: number
}

/**
 * Parameters of segmenting the tempo: negative log probabilities up to a constant, shares and logarithms of tempo
 * ratios (own choice).
 */
export interface TempoParameters {
  /** Steps shorter than this many quarter notes do not show the tempo by themselves. */
  minStepQuarters: number
  /** The smallest unsteadiness granted, ms, and the share of a step by which a tempo naturally varies. */
  minSpreadMs: number
  spreadShare: number
  /**
   * A change of tempo; bending by one place of the grid; an outlier step; and from how many standard deviations on a
   * step is one.
   */
  tempoChange: number
  tempoBend: number
  outlierPenalty: number
  outlierSpreads: number
  /** With a click: starting at another tempo than the click's, and the tolerance (log) for the same tempo. */
  otherThanAsked: number
  nearlyAsked: number
  /** A segment of fewer steps or quarter notes is merged; so are neighbours nearer than this (log). */
  minSteps: number
  minQuarters: number
  sameTempo: number
  /**
   * A faster segment makes up for a pause when it ends within this share of the time saved from where the tempo before
   * would have led (own choice).
   */
  madeUpShare: number
  /** From this log ratio on a tempo is another one and no drift: against the click, and among a player's own tempos. */
  otherTempo: number
  otherOwnTempo: number
  /** Share of the take that must be at another tempo for the whole to be. */
  wholeTakeShare: number
  /** Tolerance in beats for a whole number of beats too many or too few. */
  nearWholeBeats: number
  /** From this many beats on the player came in late rather than plays late. */
  entryBeats: number
}

export interface EarParameters {
  tempo: TempoParameters
  following: FollowingParameters
  pairing: PairingParameters
  live: LiveParameters
  tolerances: Tolerances
  /** Events that the local tempo of a free take is fitted to, and where it bends (own choice). */
  localTempoEvents: number
  bendingTempoEvents: number
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
 * The time tolerances of a strictness in proportion to the normal ones: wider for the first passes of a part, tighter
 * on request.
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

/** `normal` suits an adult beginner at half tempo; `strict` is still three times what a listener just notices. */
export const TOLERANCES: Record<Strictness, Tolerances> = {
  gentle: { ...scaled(1.5), cleanOnTimeShare: 0.9, swingFactor: 1.35 },
  normal: NORMAL,
  strict: { ...scaled(0.65), cleanOnTimeShare: 0.97, swingFactor: 1.15 },
}

export const DEFAULT_EAR: EarParameters = {
  following: {
    extra: 4,
    extraMore: 3.6,
    prestartFactor: 0.8,
    missed: 1.6,
    missedEvent: 4,
    wrongNear: 3,
    wrongFar: 3.8,
    sameShift: 1.2,
    late: 1.6,
    lateEvents: 3,
    lateBeats: 0.6,
    ornament: 0.3,
    restruck: 1.6,
    chordMs: 110,
    time: 3.5,
    timePenaltyAfterTrial: 1.4,
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
    repeatJump: 4,
    restart: 6,
    jumpThreshold: 0.6,
    pauseBeats: 1.6,
    jumpEvents: 700,
    reachEvents: 6,
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
    maxTimePenalty: 6,
    certain: 2.2,
    minSpreadMs: 18,
    wrongSpreadMs: 40,
    maxSpreadMs: 90,
    reachBeats: 0.9,
    minReachMs: 250,
    maxReachMs: 900,
    graceLooseness: 3,
    rolledLooseness: 4,
    doubledMs: 40,
  },
  tempo: {
    minStepQuarters: 0.45,
    minSpreadMs: 10,
    spreadShare: 0.03,
    tempoChange: 10,
    tempoBend: 1.5,
    outlierPenalty: 7,
    outlierSpreads: 4,
    otherThanAsked: 4,
    nearlyAsked: 0.08,
    minSteps: 3,
    minQuarters: 1.9,
    sameTempo: 0.08,
    madeUpShare: 0.5,
    otherTempo: Math.log(1.12),
    otherOwnTempo: Math.log(1.17),
    wholeTakeShare: 0.7,
    nearWholeBeats: 0.2,
    entryBeats: 0.75,
  },
  live: { wrongBeats: 0.4, wrongMinMs: 150, wrongMaxMs: 350, awayBeats: 0.6 },
  tolerances: NORMAL,
  localTempoEvents: 15,
  bendingTempoEvents: 5,
}

/** The judge's parameters at a strictness. What is heard is the same at each; only the tolerances differ. */
export const earFor = (strictness: Strictness): EarParameters => ({
  ...DEFAULT_EAR,
  tolerances: TOLERANCES[strictness],
})

const between = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value))

/** How far from its due time a right key is matched with its note, ms, at a beat of `beatMs`. */
export const matchWindowMs = ({ pairing }: EarParameters, beatMs: number): number =>
  between(pairing.reachBeats * beatMs, pairing.minReachMs, pairing.maxReachMs)

/** How far from its due time another key is matched with a note live, ms. */
export const wrongWindowMs = ({ live }: EarParameters, beatMs: number): number =>
  between(live.wrongBeats * beatMs, live.wrongMinMs, live.wrongMaxMs)

/** How far from its due time a note is still on time, in ms. */
export const onTimeMs = ({ tolerances }: EarParameters, beatMs: number): number =>
  between(tolerances.onTimeBeats * beatMs, tolerances.onTimeMinMs, tolerances.onTimeMaxMs)
