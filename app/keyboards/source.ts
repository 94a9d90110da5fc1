import type { TimedMessage } from '#core/ear/take'

/**
 * A source of MIDI messages. `atMs` of its messages is on the page's clock (`performance.now()`); a source that knows
 * when a key really moved says so, however late the message is handled.
 */
export interface KeyboardSource {
  readonly id: string
  readonly name: string
  /** It makes no sound of its own, so the program sounds its keys. */
  readonly silent: boolean
  /** Begins to listen; the function it gives back ends that and releases what is still held. */
  listen: (heard: (message: TimedMessage) => void) => () => void
}

export const noteOn = (pitch: number, velocity: number): number[] => [0x90, pitch, velocity]
export const noteOff = (pitch: number): number[] => [0x80, pitch, 0]
