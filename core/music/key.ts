import { sampleCorrelation } from 'simple-statistics'
import { barAt, type Arrangement } from './arrangement'
import { spellInKey, type MidiPitch } from './pitch'
import { toDecimal, type Quarters } from './quarters'

/**
 * How well each step of the scale fits a major and a minor key, from the tonic upward (Temperley 1999, What's Key for
 * Key? The Krumhansl–Schmuckler Key-Finding Algorithm Reconsidered, Music Perception 17; unchecked).
 */
const PROFILES = {
  major: [5, 2, 3.5, 2, 4.5, 4, 2, 4.5, 2, 3.5, 1.5, 4],
  minor: [5, 2, 3.5, 4.5, 2, 4, 2, 4.5, 3.5, 2, 1.5, 4],
} as const
/** The bonus, as a correlation, for a key whose tonic is the last bass note (common practice; own figure). */
const FINAL_BASS = 0.15
/**
 * A minor piece whose sixth step is this many times as long high as low is written with a flat fewer, or a sharp more
 * (the old signature of the Dorian mode; common practice).
 */
const DORIAN = 1.5
/** Notes below this share of the total are passing notes. */
const SPOKEN_FOR = 0.03

/** A note of a piece: when it begins and how long it lasts, in any one unit. */
export interface KeyNote {
  pitch: MidiPitch
  onset: number
  length: number
}
/** A key: its signature (positive sharps) and its tonic's pitch class. */
export interface Key {
  fifths: number
  tonic: number
  mode: 'major' | 'minor'
}

/**
 * The key of a piece: the major or minor one whose profile correlates best with how long each pitch class sounds (the
 * method of Krumhansl and Schmuckler), the last bass note weighed in. Undefined for no notes. Between enharmonic twins,
 * the one with fewer signs.
 */
export function keyOf(notes: readonly KeyNote[]): Key | undefined {
  const scores = scoresOf(notes)
  if (!scores) return undefined
  const all = Array.from({ length: 12 }, (_, tonic) =>
    (['major', 'minor'] as const).map(mode => ({ tonic, mode })),
  ).flat()
  const { tonic, mode } = all.reduce((best, key) => (scores(key) > scores(best) ? key : best))
  const sounding = soundingOf(notes)
  const [low, high] = [sounding[(tonic + 8) % 12]!, sounding[(tonic + 9) % 12]!]
  const isDorian =
    mode === 'minor' && high >= DORIAN * low && high >= SPOKEN_FOR * sounding.reduce((sum, one) => sum + one, 0)
  return { fifths: signature(tonic + (mode === 'minor' ? 3 : 0) + (isDorian ? 7 : 0)), tonic, mode }
}

/** Total duration of each pitch class. */
function soundingOf(notes: readonly KeyNote[]): number[] {
  const sounding = Array.from({ length: 12 }, () => 0)
  for (const { pitch, length } of notes) sounding[pitch % 12]! += length
  return sounding
}

/** How well each key fits some notes. Undefined for no notes. */
function scoresOf(notes: readonly KeyNote[]): ((key: Pick<Key, 'tonic' | 'mode'>) => number) | undefined {
  const sounding = soundingOf(notes)
  if (sounding.every(one => one === 0)) return undefined
  const lastOnset = notes.reduce((latest, note) => Math.max(latest, note.onset), Number.NEGATIVE_INFINITY)
  const bass =
    notes.reduce(
      (lowest, note) => (note.onset + note.length > lastOnset ? Math.min(lowest, note.pitch) : lowest),
      127,
    ) % 12
  return ({ tonic, mode }) =>
    sampleCorrelation(
      [...PROFILES[mode]],
      PROFILES[mode].map((_, step) => sounding[(tonic + step) % 12]!),
    ) + (bass === tonic ? FINAL_BASS : 0)
}

/** Sharps of the major key on a pitch class; F♯ rather than G♭. */
function signature(majorTonic: number): number {
  const fifths = (majorTonic * 7) % 12
  return fifths > 6 ? fifths - 12 : fifths
}

/**
 * Own choice: the probability of a note inside a signature's scale, and outside it; the evidence needed for a change of
 * key (in bars that differ by all their notes); and the fewest bars it must last.
 */
const IN_SCALE = 0.135
const OUT_OF_SCALE = 0.011
const CHANGE = 6
const MIN_BARS = 8
/** Pitch classes of the major scale from its tonic. */
const SCALE = [0, 2, 4, 5, 7, 9, 11]

/** A key from a bar on, by index. */
export interface KeyFrom extends Key {
  bar: number
}

/**
 * The keys of a piece bar by bar: the likeliest signatures (Viterbi decoding over the shares of notes in their scales),
 * where each lasts long enough, and in each stretch the key of its notes. `barOf`: the bar of a moment. Empty for no
 * notes.
 */
export function keysOf(notes: readonly KeyNote[], barOf: (onset: number) => number): KeyFrom[] {
  const bars = notes.map(note => barOf(note.onset))
  const count = bars.reduce((most, bar) => Math.max(most, bar), -1) + 1
  const whole = keyOf(notes)
  if (!whole) return []
  const one = [{ bar: 0, ...whole }]
  if (count < 3 * MIN_BARS) return one
  const sounding = Array.from({ length: count }, () => Array.from({ length: 12 }, () => 0))
  notes.forEach(({ pitch, length }, index) => {
    sounding[bars[index]!]![pitch % 12]! += length
  })
  const starts = stretches(likeliest(sounding))
  if (starts.length === 1) return one
  const found = starts.map((bar, index): KeyFrom => ({
    bar,
    ...keyOf(notes.filter((_, note) => bars[note]! >= bar && bars[note]! < (starts[index + 1] ?? count)))!,
  }))
  return found.filter((key, index) => index === 0 || key.fifths !== found[index - 1]!.fifths)
}

/** The tonic of the likeliest major scale in each bar. */
function likeliest(sounding: readonly (readonly number[])[]): number[] {
  const scales = Array.from({ length: 12 }, (_, tonic) => new Set(SCALE.map(step => (tonic + step) % 12)))
  const speaks = (bar: readonly number[], scale: ReadonlySet<number>) => {
    const all = bar.reduce((sum, one) => sum + one, 0)
    return all === 0
      ? 0
      : bar.reduce((sum, one, pitch) => sum + one * Math.log(scale.has(pitch) ? IN_SCALE : OUT_OF_SCALE), 0) / all
  }
  const change = (CHANGE * -Math.log(OUT_OF_SCALE / IN_SCALE)) / SCALE.length
  let scores = scales.map(scale => speaks(sounding[0]!, scale))
  const origins: number[][] = []
  for (const bar of sounding.slice(1)) {
    const best = scores.indexOf(Math.max(...scores))
    const from = scores.map((score, tonic) => (scores[best]! - change > score ? best : tonic))
    origins.push(from)
    scores = scales.map((scale, tonic) => speaks(bar, scale) + Math.max(scores[tonic]!, scores[best]! - change))
  }
  const tonics = [scores.indexOf(Math.max(...scores))]
  for (const from of origins.reverse()) tonics.unshift(from[tonics[0]!]!)
  return tonics
}

/** Where runs of one tonic begin; a run that is too short joins the one before. */
function stretches(tonics: readonly number[]): number[] {
  const starts = tonics.flatMap((tonic, bar) => (tonic === tonics[bar - 1] ? [] : [bar]))
  return starts.filter((bar, index) => index === 0 || (starts[index + 1] ?? tonics.length) - bar >= MIN_BARS)
}

/**
 * Own choice: the share of notes in another scale, how much more than in the signature's own (pieces by others under
 * their own signatures: at most 0.03), and the notes needed to decide.
 */
const PLAINLY = { within: 0.85, more: 0.15 }
const MIN_NOTES = 24

/** Whether notes plainly lie in another scale than the signature's, as in files where nobody set one. */
export function isPlainlyElsewhere(notes: readonly KeyNote[], fifths: number): boolean {
  if (notes.length < MIN_NOTES) return false
  const sounding = soundingOf(notes)
  const all = sounding.reduce((sum, one) => sum + one, 0)
  const within = (tonic: number) => SCALE.reduce((sum, step) => sum + sounding[(tonic + step) % 12]!, 0)
  const most = Math.max(...sounding.map((_, tonic) => within(tonic)))
  return most >= PLAINLY.within * all && most - within((((fifths * 7) % 12) + 12) % 12) >= PLAINLY.more * all
}

/** The major or minor key that notes are in under a known signature. Undefined for no notes. */
export function keyUnder(notes: readonly KeyNote[], fifths: number): Key | undefined {
  const scores = scoresOf(notes)
  const major = (((fifths * 7) % 12) + 12) % 12
  // Also the minor key whose sixth step is high, which has the old Dorian signature.
  const candidates: Key[] = [
    { fifths, tonic: major, mode: 'major' },
    { fifths, tonic: (major + 9) % 12, mode: 'minor' },
    { fifths, tonic: (major + 2) % 12, mode: 'minor' },
  ]
  return scores && candidates.reduce((best, key) => (scores(key) > scores(best) ? key : best))
}

/** Sharps or flats of a pitch class spelled under a signature. */
const signsOf = (pitch: number, fifths: number): number =>
  spellInKey(60 + (pitch % 12), fifths)
    .replace(/^[A-G]/, '')
    .replace(/-?\d+$/, '').length

/** Whether notes are spelled with double accidentals under a signature. */
export const needsDoubles = (fifths: number, pitches: readonly MidiPitch[]): boolean =>
  pitches.some(pitch => signsOf(pitch, fifths) > 1)

/**
 * Of a signature and its enharmonic twins the one in which the notes have the fewest double accidentals, and then the
 * fewest accidentals; the first where they are alike.
 */
export function plainestSignature(fifths: number, pitches: readonly MidiPitch[]): number {
  const classes = Array.from({ length: 12 }, () => 0)
  for (const pitch of pitches) classes[pitch % 12]!++
  const strangeness = (signature: number) =>
    classes.reduce((sum, count, pitch) => {
      const isInKey = SCALE.some(step => (((((signature * 7) % 12) + 12) % 12) + step) % 12 === pitch)
      return sum + count * (signsOf(pitch, signature) > 1 ? 100 : isInKey ? 0 : 1)
    }, 0)
  return [fifths, fifths - 12, fifths + 12]
    .filter(one => Math.abs(one) <= 7)
    .reduce((best, one) => (strangeness(one) < strangeness(best) ? one : best))
}

/** A named key: its tonic's note name and mode. */
export interface NamedKey {
  tonic: string
  isMinor: boolean
  fifths: number
}

/**
 * The key in force at a moment: major or minor as all that sounds under this signature says, from where the signature
 * begins to where another does (common practice: a change of key that lasts has its signature).
 */
export function keyAt(arrangement: Arrangement, onset: Quarters): NamedKey {
  const { bars } = arrangement
  const { index, fifths } = barAt(arrangement, onset)
  const first = bars.findLastIndex(bar => bar.index <= index && bar.fifths !== fifths) + 1
  const next = bars.find(bar => bar.index > index && bar.fifths !== fifths)
  const [from, to] = [toDecimal(bars[first]!.start), next ? toDecimal(next.start) : Number.POSITIVE_INFINITY]
  const key = keyUnder(
    keyNotesOf(arrangement).filter(note => note.onset >= from && note.onset < to),
    fifths,
  ) ?? { tonic: (((fifths * 7) % 12) + 12) % 12, mode: 'major' }
  return { tonic: spellInKey(60 + key.tonic, fifths).replace(/-?\d+$/, ''), isMinor: key.mode === 'minor', fifths }
}

/** Everything sounding with a pitch, from the hands and the other roles. */
const keyNotesOf = ({ notes, others }: Arrangement): KeyNote[] =>
  [...notes, ...others.filter(role => !role.percussion && !role.silent).flatMap(role => role.notes)].map(note => ({
    pitch: note.pitch,
    onset: toDecimal(note.onset),
    length: toDecimal(note.duration),
  }))
