import type { Voice as SoundingVoice } from '#core/sound/performance'
import type { Progress } from './instruments'
import type { MidiOut } from './midi-voice'
import type { Mixer } from './mixer'
import type { Transport } from './transport'

/** What has changed, without words: two notes up, two notes down, or one. */
export type Cue = 'up' | 'down' | 'other'

/** The program's sound: the transport, what sounds on it, and how loud. */
export interface Sound extends Transport {
  /**
   * Makes ready what will sound. Until the recordings have come a computed tone sounds in their place; resolves when
   * they have, and never fails.
   */
  prepare: (voices: readonly SoundingVoice[], progress?: Progress) => Promise<void>
  /** Says softly that something else comes now: faster, slower, or another thing. */
  cue: (kind: Cue) => void
  /** A key that has no sound of its own goes down, or comes up. */
  press: (pitch: number, velocity: number) => void
  release: (pitch: number) => void
  /**
   * Takes a rendered recording over; gives the number (`pitch`) under which the voice "file" plays it. The oldest are
   * forgotten.
   */
  addRecording: (buffer: AudioBuffer) => number
  /** Plays the piano part on another instrument; without one on this computer. Sounding notes finish where they are. */
  setPianoOutput: (output: MidiOut | undefined) => void
  mixer: Pick<Mixer, 'set'>
  /**
   * How late what is placed now is heard: the computer's own buffers, and what the output adds as far as it is known,
   * ms.
   */
  outputDelayMs: () => number
}
