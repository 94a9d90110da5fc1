import type { Meter } from './meter'
import type { Remark } from './remark'

/**
 * Something that was not in the input and had to be decided: what about, and what was taken. Its words are made in the
 * words' room.
 */
export type Guess =
  | { about: 'hands'; kind: 'told-apart' }
  /** Which tracks were given to which hand, by their names. */
  | {
      about: 'hands'
      kind: 'keyboard-of-tracks' | 'pair-of-tracks' | 'choir-of-tracks' | 'band-of-tracks'
      right: string[]
      left: string[]
      both: string[]
    }
  | { about: 'hands'; kind: 'in-the-file'; remark: Remark }
  | { about: 'meter'; kind: 'meter-found'; meter: Meter }
  | {
      about: 'key'
      kind: 'key-found'
      from: 'notes' | 'chords'
      key?: { fifths: number; tonic: number; mode: 'major' | 'minor' }
      changes?: number
      /** What the file says in its place. */
      insteadOf?: number
    }
  /** The file's signature, and its enharmonic twin that is written. */
  | { about: 'key'; kind: 'key-respelled'; fifths: number; from: number }
  | { about: 'pickup'; kind: 'pickup'; quarters: number }
  | { about: 'swing'; kind: 'late-offbeats'; ratio: number }
  | { about: 'rhythm'; kind: 'off-the-grid' }
  | { about: 'tempo'; kind: 'tempo-found' | 'tempo-taken' | 'tempo-tapped'; bpm: number }
  | { about: 'bars'; kind: 'chord-lengths'; chordsPerBar: number }
  /** What each hand of a chart plays, by the names of patterns. */
  | { about: 'notes'; kind: 'voiced'; left: string; right: string }
