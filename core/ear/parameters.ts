/**
 * Every tolerance the ear uses, with its unit and where it comes from. "own choice" marks a value chosen for
 * this program and tuned on simulated players; it is data, so that it can be argued with.
 */
export interface EarParameters {
  /** A key that is the written one may be this far from its due time, as a share of a beat (own choice). */
  matchWindowBeats: number
  /** … but at least and at most this many ms (own choice). */
  matchWindowMinMs: number
  matchWindowMaxMs: number
  /** Another key may stand for a missed note when it is this near its due time, as a share of a beat (own choice). */
  wrongWindowBeats: number
  wrongWindowMinMs: number
  wrongWindowMaxMs: number
  /** Keys struck within this time of each other belong to one chord when a take has no beat (common practice: a rolled chord is slower). */
  chordClusterMs: number
  /**
   * On time: this share of a beat, at least and at most so many ms. Several times the smallest displacement a listener
   * notices (about 2.5 % of the interval; Friberg & Sundberg 1995, from memory); wide enough for an adult
   * beginner at half tempo (own choice).
   */
  onTimeBeats: number
  onTimeMinMs: number
  onTimeMaxMs: number
  /** A pass is clean when at least this share of its right notes is on time (own choice: one stray in twenty is not a fault). */
  cleanOnTimeShare: number
  /** A hesitation: a note comes this much later than its predecessor's lateness explains, share of the interval and ms (own choice). */
  hesitationShare: number
  hesitationMinMs: number
  /** A tempo that runs away by this much is rushing or dragging (own choice; a listener notices about 2.5 %). */
  driftPercent: number
  /** Notes meant together: how far apart they may be (common practice; melody lead in expert chords is about 30 ms, Goebl 2001, from memory). */
  chordSpreadMs: number
  handsApartMs: number
  /** How many neighbouring events set the local tempo of a free take (own choice). */
  localTempoEvents: number
}

export const DEFAULT_EAR: EarParameters = {
  matchWindowBeats: 0.9, matchWindowMinMs: 250, matchWindowMaxMs: 900,
  wrongWindowBeats: 0.4, wrongWindowMinMs: 150, wrongWindowMaxMs: 350,
  chordClusterMs: 45,
  onTimeBeats: 0.12, onTimeMinMs: 50, onTimeMaxMs: 120, cleanOnTimeShare: 0.95,
  hesitationShare: 0.35, hesitationMinMs: 140,
  driftPercent: 2.5,
  chordSpreadMs: 60, handsApartMs: 50,
  localTempoEvents: 9,
}

const between = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value))

/** How far from its due time a right key is still taken for its note, in ms, at a beat of `beatMs`. */
export const matchWindowMs = (ear: EarParameters, beatMs: number): number =>
  between(ear.matchWindowBeats * beatMs, ear.matchWindowMinMs, ear.matchWindowMaxMs)

/** How far from its due time a wrong key is still taken to stand for a note, in ms. */
export const wrongWindowMs = (ear: EarParameters, beatMs: number): number =>
  between(ear.wrongWindowBeats * beatMs, ear.wrongWindowMinMs, ear.wrongWindowMaxMs)

/** How far from its due time a note is still on time, in ms. */
export const onTimeMs = (ear: EarParameters, beatMs: number): number =>
  between(ear.onTimeBeats * beatMs, ear.onTimeMinMs, ear.onTimeMaxMs)
