import { isCompound, pulses, type Meter } from '../music/meter'

/** Drums and cymbals by what they are, with their keys in the General MIDI percussion map. */
export const DRUM_KEYS = {
  kick: 36, stick: 37, snare: 38, closedHat: 42, lowTom: 45, pedalHat: 44, openHat: 46, midTom: 47, crash: 49, highTom: 50, ride: 51, shaker: 82,
} as const
export type Drum = keyof typeof DRUM_KEYS

/**
 * A note of a chord, counted from its root: `bass` is what stands behind the slash, else the root; `third` also the second or fourth in its place; `seventh` the octave where there is
 * none; `color` the ninth, or what else is added; `approach` a half step below the bass of the next chord. `chord`: all of it together.
 */
export type ChordTone = 'root' | 'bass' | 'third' | 'fifth' | 'seventh' | 'octave' | 'color' | 'approach' | 'chord'

/** One note of a pattern. Steps count from the bar line; `length` in steps; `octave` above (or below) where the tone lies by itself. */
export interface PatternNote<Tone extends Drum | ChordTone = Drum | ChordTone> {
  readonly step: number
  readonly length: number
  readonly tone: Tone
  readonly octave?: number
  /** -1 soft, 1 accented. */
  readonly accent?: -1 | 1
}

/**
 * A bar of so many felt beats (two in 2/4 and in 6/8), each in `division` equal steps, and what is played on them. In steps of a third it fits meters whose beats are three, and
 * as triplets those whose beats are two; in halves and quarters only these. Plain data: whoever adds a pattern adds no code.
 */
export interface Pattern<Tone extends Drum | ChordTone = Drum | ChordTone> {
  readonly beats: number
  readonly division: 1 | 2 | 3 | 4
  readonly notes: readonly PatternNote<Tone>[]
}

/** Whether a pattern can be played in bars of a meter. */
export const fits = ({ beats, division }: Pattern, meter: Meter): boolean =>
  pulses(meter).length === beats && (division === 1 || (isCompound(meter) ? division === 3 : !meter.groups))

/** What a sign of a row stands for: `X` accented, `x` plain, `o` soft; `-` holds the note before it on; a dot is silence; a bar line or blank is only there for the eye. */
const SIGNS: Readonly<Record<string, -1 | 0 | 1>> = { X: 1, x: 0, o: -1 }

/** A row of a pattern written as signs, one a step: `row('kick', 'X...|..x.')`. Throws a RangeError for any other sign. */
export function row<Tone extends Drum | ChordTone>(tone: Tone, signs: string, octave = 0): PatternNote<Tone>[] {
  const notes: (PatternNote<Tone> & { length: number })[] = []
  let held: typeof notes[number] | undefined
  let step = 0
  for (const sign of signs) {
    if (sign === '|' || sign === ' ') continue
    const accent = SIGNS[sign]
    if (accent !== undefined) {
      held = { step, length: 1, tone, ...(octave === 0 ? {} : { octave }), ...(accent === 0 ? {} : { accent }) }
      notes.push(held)
    }
    else if (sign === '-' && held) held.length++
    else if (sign === '.') held = undefined
    else throw new RangeError(`"${sign}" at step ${step + 1} of a pattern's row: X, x, o, - behind one of them, or a dot was expected`)
    step++
  }
  return notes
}
