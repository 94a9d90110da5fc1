import { isCompound, pulses, type Meter } from '../music/meter'

/** Drums and cymbals by what they are, with their keys in the General MIDI percussion map. */
export const DRUM_KEYS = {
  kick: 36,
  stick: 37,
  snare: 38,
  closedHat: 42,
  lowTom: 45,
  pedalHat: 44,
  openHat: 46,
  midTom: 47,
  crash: 49,
  highTom: 50,
  ride: 51,
  shaker: 82,
} as const
export type Drum = keyof typeof DRUM_KEYS

/**
 * A note of a chord, counted upward from its bass, which is what stands behind the slash, else the root: `third` also
 * the second or fourth in its place; `sixth` a major sixth above the bass, or the minor one that the chord has;
 * `seventh` the octave where there is none; `guide` the seventh or, without one, the third; `color` the ninth, or what
 * else is added; `approach` a half step below the bass of the next chord; `walk` a step on the way there.
 */
export const LINE_TONES = [
  'root',
  'bass',
  'third',
  'fifth',
  'sixth',
  'seventh',
  'octave',
  'guide',
  'color',
  'approach',
  'walk',
] as const
/**
 * A chord note by its place in the nearest inversion: one of three, all but the lowest, or all together. With a bass
 * tone beside them these lie above it.
 */
export const POSITION_TONES = ['low', 'middle', 'high', 'upper', 'chord'] as const
export const CHORD_TONES = [...LINE_TONES, ...POSITION_TONES] as const
export type ChordTone = (typeof CHORD_TONES)[number]
export type LineTone = (typeof LINE_TONES)[number]
export type PositionTone = (typeof POSITION_TONES)[number]

/**
 * One note of a pattern. Steps count from the bar line; `length` in steps; `octave` above (or below) where the tone
 * lies by itself.
 */
export interface PatternNote<Tone extends Drum | ChordTone = Drum | ChordTone> {
  readonly step: number
  readonly length: number
  readonly tone: Tone
  readonly octave?: number
  /** -1 soft, 1 accented. */
  readonly accent?: -1 | 1
  /** The finger slides into it from the half step below: a grace note. */
  readonly slide?: true
}

/**
 * A bar of so many felt beats (two in 2/4 and in 6/8), each in `division` equal steps, and what is played on them. In
 * steps of a third it fits meters whose beats are three, and as triplets those whose beats are two; in halves and
 * quarters only these. Plain data: whoever adds a pattern adds no code.
 */
export interface Pattern<Tone extends Drum | ChordTone = Drum | ChordTone> {
  readonly beats: number
  readonly division: 1 | 2 | 3 | 4
  readonly notes: readonly PatternNote<Tone>[]
}

/** Whether a pattern can be played in bars of a meter. */
export const fits = ({ beats, division }: Pattern, meter: Meter): boolean =>
  pulses(meter).length === beats && (division === 1 || (isCompound(meter) ? division === 3 : !meter.groups))

/** The usual meters that something is for, as they are written. */
export const usualMeters = (isFor: (meter: Meter) => boolean): string[] =>
  USUAL_METERS.filter(([beats, beatType]) => isFor({ beats, beatType })).map(
    ([beats, beatType]) => `${beats}/${beatType}`,
  )
/** Whether a meter is one of the usual ones, two half notes being two beats as 2/4 has them. */
export const isUsual = (meter: Meter): boolean =>
  USUAL_METERS.some(
    ([beats, beatType]) =>
      meter.beats === beats && (meter.beatType === beatType || (beatType === 4 && meter.beatType === 2 && beats === 2)),
  )
const USUAL_METERS: readonly [number, number][] = [
  [2, 4],
  [3, 4],
  [4, 4],
  [6, 8],
  [12, 8],
]

/**
 * What a sign of a row stands for: `X` accented, `x` plain, `o` soft, `/` slid into; `-` holds the note before it on; a
 * dot is silence; a bar line or blank is only there for the eye.
 */
const SIGNS: Readonly<Record<string, { accent?: -1 | 1; slide?: true }>> = {
  X: { accent: 1 },
  x: {},
  o: { accent: -1 },
  '/': { slide: true },
}

/**
 * A row of a pattern written as signs, one a step: `row('kick', 'X...|..x.')`. Throws a RangeError for any other sign.
 */
export function row<Tone extends Drum | ChordTone>(tone: Tone, signs: string, octave = 0): PatternNote<Tone>[] {
  const notes: (PatternNote<Tone> & { length: number })[] = []
  let held: (typeof notes)[number] | undefined
  let step = 0
  for (const sign of signs) {
    if (sign === '|' || sign === ' ') continue
    const struck = SIGNS[sign]
    if (struck) {
      held = { step, length: 1, tone, ...(octave === 0 ? {} : { octave }), ...struck }
      notes.push(held)
    } else if (sign === '-' && held) held.length++
    else if (sign === '.') held = undefined
    else
      throw new RangeError(
        `"${sign}" at step ${step + 1} of a pattern's row: X, x, o, / or a dot was expected, or - behind one of the first four`,
      )
    step++
  }
  return notes
}
