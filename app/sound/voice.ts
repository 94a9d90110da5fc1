import type { SoundEvent } from '#core/sound/performance'

/** What a voice has to know of a sound; `lengthMs` may be endless: then it sounds until it is let go. */
export type Struck = Pick<SoundEvent, 'pitch' | 'velocity' | 'lengthMs'>

/** Something placed on the audio clock; it may be taken back until it has begun. */
export interface Placed {
  /** By when nothing of it sounds any more, seconds of the audio clock. */
  readonly endsAt: number
  /**
   * Lets go of it at a moment, as a key is let go, or `stop`: silent within a hundredth of a second. What has not begun
   * by then never sounds.
   */
  letGo: (atSeconds: number, how: 'key' | 'stop') => void
}

/** Whatever makes events sound: a sampled instrument, a click, a file, another instrument on a cable. */
export interface Voice {
  place: (struck: Struck, atSeconds: number) => Placed
}
