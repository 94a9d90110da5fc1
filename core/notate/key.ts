import { sampleCorrelation } from 'simple-statistics'
import type { MidiPitch } from '../music/pitch'

/**
 * How well each step of the scale fits a major and a minor key, from the tonic upward (Temperley 1999, What's Key for Key? The Krumhansl–Schmuckler
 * Key-Finding Algorithm Reconsidered, Music Perception 17; from memory).
 */
const PROFILES = {
  major: [5, 2, 3.5, 2, 4.5, 4, 2, 4.5, 2, 3.5, 1.5, 4],
  minor: [5, 2, 3.5, 4.5, 2, 4, 2, 4.5, 3.5, 2, 1.5, 4],
} as const
/** What it says for a key, as a correlation, that the piece ends on its tonic in the bass (common practice; own figure). */
const FINAL_BASS = 0.15
/** A minor piece whose sixth step is this many times as long high as low is written with a flat fewer, or a sharp more (the old signature of the Dorian mode; common practice). */
const DORIAN = 1.5
/** Fewer than this share of all that sounds are passing notes. */
const SPOKEN_FOR = 0.03

/** A note of a piece: when it begins and how long it lasts, in any one unit. */
export interface KeyNote { pitch: MidiPitch, onset: number, length: number }
/** A key: its signature (positive sharps) and its tonic's pitch class. */
export interface Key { fifths: number, tonic: number, mode: 'major' | 'minor' }

/**
 * The key of a piece: the major or minor one whose profile correlates best with how long each pitch class sounds (the method of Krumhansl and
 * Schmuckler), the last bass note weighed in. Undefined for no notes. Between enharmonic twins, the one with fewer signs.
 */
export function keyOf(notes: readonly KeyNote[]): Key | undefined {
  const sounding = Array.from({ length: 12 }, () => 0)
  for (const { pitch, length } of notes) sounding[pitch % 12]! += length
  if (sounding.every(one => one === 0)) return undefined
  const lastOnset = notes.reduce((latest, note) => Math.max(latest, note.onset), Number.NEGATIVE_INFINITY)
  const bass = notes.reduce((lowest, note) => note.onset + note.length > lastOnset ? Math.min(lowest, note.pitch) : lowest, 127) % 12
  let best = { score: Number.NEGATIVE_INFINITY, tonic: 0, mode: 'major' as Key['mode'] }
  for (let tonic = 0; tonic < 12; tonic++) {
    for (const mode of ['major', 'minor'] as const) {
      const correlation = sampleCorrelation([...PROFILES[mode]], PROFILES[mode].map((_, step) => sounding[(tonic + step) % 12]!))
      const score = correlation + (bass === tonic ? FINAL_BASS : 0)
      if (score > best.score) best = { score, tonic, mode }
    }
  }
  const { tonic, mode } = best
  const [low, high] = [sounding[(tonic + 8) % 12]!, sounding[(tonic + 9) % 12]!]
  const isDorian = mode === 'minor' && high >= DORIAN * low && high >= SPOKEN_FOR * sounding.reduce((sum, one) => sum + one, 0)
  return { fifths: signature(tonic + (mode === 'minor' ? 3 : 0) + (isDorian ? 7 : 0)), tonic, mode }
}

/** Sharps of the major key on a pitch class; F♯ rather than G♭. */
function signature(majorTonic: number): number {
  const fifths = (majorTonic * 7) % 12
  return fifths > 6 ? fifths - 12 : fifths
}
