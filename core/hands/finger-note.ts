import type { Finger } from './ergonomics'
import type { MidiPitch } from '../music/pitch'

/** A note of one hand. Times in ms of playing, at the tempo it is to be played at. */
export interface FingerNote {
  id: string
  pitch: MidiPitch
  onsetMs: number
  endMs: number
  /** The player's or the file's finger, to be kept. */
  locked?: Finger
}
