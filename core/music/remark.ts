/** Something in a file that is not used, or read differently from what it says; core/words makes the sentence. */
export type Remark = (
  | { kind: 'chord-by-function' }
  | { kind: 'chord-kind'; name: string }
  | { kind: 'key-off-circle' }
  | { kind: 'free-meter' }
  | { kind: 'ending'; name: string }
  | { kind: 'many-staves'; name: string; staves: number }
  | { kind: 'no-hand'; name: string }
  | { kind: 'parts-of-other-length' }
  | { kind: 'bar-too-long' }
  | { kind: 'bar-too-short' }
  | { kind: 'tie-from-nowhere' }
  | { kind: 'pedal'; name: string }
  | { kind: 'metronome' }
  | { kind: 'tempo'; name: string }
  | { kind: 'swing' }
  | { kind: 'meter-in-bar' }
  | { kind: 'backup' }
  | { kind: 'element'; name: string }
  | { kind: 'cue-notes' }
  | { kind: 'unpitched' }
  | { kind: 'quarter-tones' }
  | { kind: 'beyond-keys' }
  | { kind: 'finger'; name: string }
  | { kind: 'ornament'; name: string }
  | { kind: 'drawn-value' }
  | { kind: 'drums' }
  | { kind: 'beyond-hand'; notes: number }
  | { kind: 'merged-notes'; notes: number }
  // Of an edition
  | { kind: 'left-out'; notes: number; of: number }
  // Guesses about the hands
  | { kind: 'guess-staves'; notes: number }
  | { kind: 'guess-one-staff' }
  | { kind: 'guess-parts'; right: string; left: string }
  | { kind: 'guess-voices'; right: string; left: string }
) &
  RemarkPlaces

/** The label of the first bar concerned, and the number of places. */
export interface RemarkPlaces {
  bar?: string
  places?: number
}

/** Whether it describes a guess about the hands, for the player to check. */
export const isGuess = ({ kind }: Remark): boolean => kind.startsWith('guess-')
