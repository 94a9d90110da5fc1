import { sampleCorrelation } from 'simple-statistics'
import type { MidiPitch } from '../music/pitch'

/** How well each step of the scale fits a major and a minor key, from the tonic upward (Krumhansl & Kessler, in Krumhansl 1990, Cognitive Foundations of Musical Pitch; from memory). */
const MAJOR = [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88]
const MINOR = [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17]

/**
 * The key signature in which notes lie best, positive sharps: the major or minor key whose profile correlates best with how long each
 * pitch class sounds (Krumhansl and Schmuckler's key finding). 0 for no notes. Between enharmonic twins, the one with fewer signs.
 */
export function findKey(notes: readonly { pitch: MidiPitch, length: number }[]): number {
  const sounding = Array.from({ length: 12 }, () => 0)
  for (const { pitch, length } of notes) sounding[pitch % 12]! += length
  if (sounding.every(one => one === 0)) return 0
  let best = { correlation: Number.NEGATIVE_INFINITY, fifths: 0 }
  for (let tonic = 0; tonic < 12; tonic++) {
    for (const [profile, relative] of [[MAJOR, 0], [MINOR, 3]] as const) {
      const correlation = sampleCorrelation(profile, profile.map((_, step) => sounding[(tonic + step) % 12]!))
      if (correlation > best.correlation) best = { correlation, fifths: signature(tonic + relative) }
    }
  }
  return best.fifths
}

/** Sharps of the major key on a pitch class; F♯ rather than G♭. */
function signature(majorTonic: number): number {
  const fifths = (majorTonic * 7) % 12
  return fifths > 6 ? fifths - 12 : fifths
}
