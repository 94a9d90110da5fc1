import type { Meter } from './meter'
import type { Remark } from './remark'

/** Something missing in the input that had to be decided, and how; core/words makes the sentence. */
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
      /** What the file says instead. */
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
