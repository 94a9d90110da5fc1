/** A MIDI note number: 60 is middle C (C4), 69 is A4 = 440 Hz. */
export type MidiPitch = number

/** Whether a piano has a key for a pitch: 88 of them, A0 to C8. */
export const isOnKeyboard = (pitch: MidiPitch): boolean => pitch >= LOWEST_KEY && pitch <= HIGHEST_KEY
export const [LOWEST_KEY, HIGHEST_KEY] = [21, 108]

const STEP_SEMITONES: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 }
/** The natural notes on the line of fifths, F to B. */
const FIFTHS_ORDER = ['F', 'C', 'G', 'D', 'A', 'E', 'B']

/** The MIDI number of a written note: step `A`–`G`, alteration in half steps, octave with C4 = middle C. */
export const midiOf = (step: string, alter: number, octave: number): MidiPitch =>
  (octave + 1) * 12 + STEP_SEMITONES[step]! + alter

/** A written note's name in the ASCII spelling of the JSON documents: `F#4`, `Bb3`, `C##5`. */
export const spelledName = (step: string, alter: number, octave: number): string =>
  `${step}${alter >= 0 ? '#'.repeat(alter) : 'b'.repeat(-alter)}${octave}`

/**
 * Spells a sounding pitch in a key: the name that lies nearest the key on the line of fifths, a little
 * toward the sharps, so that leading notes of minor keys come out raised (in A minor G#, in F# minor E#).
 * `fifths` is the key signature: positive sharps, negative flats.
 */
export function spellInKey(pitch: MidiPitch, fifths: number): string {
  const names = (namesIn[fifths] ??= [])
  return (names[pitch] ??= spelled(pitch, fifths))
}

/** Each pitch is spelled once per key: songs ask for the same ones many times. */
const namesIn: Record<number, string[]> = {}

function spelled(pitch: MidiPitch, fifths: number): string {
  // C is 0 on the line of fifths; a key signature of n has its seven notes at n−1 … n+5.
  const centre = fifths + 3
  let place = (pitch * 7) % 12
  while (place < centre - 6) place += 12
  while (place > centre + 5) place -= 12
  const step = FIFTHS_ORDER[(((place + 1) % 7) + 7) % 7]!
  const alter = Math.floor((place + 1) / 7)
  const octave = Math.floor((pitch - alter) / 12) - 1
  return spelledName(step, alter, octave)
}
