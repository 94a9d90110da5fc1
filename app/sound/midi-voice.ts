import { noteOff, noteOn } from '../keyboards/source'
import type { Placed, Struck, Voice } from './voice'

/** What is used of a MIDI output. */
export interface MidiOut {
  readonly name: string | null
  send: (bytes: number[], timestampMs?: number) => void
}

/** How long before its time a message is given to the output, ms: from then on it cannot be taken back. */
const SENDS_AHEAD_MS = 100

/**
 * Another instrument on a cable: the player's own piano plays what the program's piano would. `pageMsAt`: the page's
 * time of a moment of the audio clock.
 */
export class MidiVoice implements Voice {
  constructor(
    private readonly output: MidiOut,
    private readonly pageMsAt: (seconds: number) => number,
    private readonly pageNow = () => performance.now(),
  ) {}

  place({ pitch, velocity, lengthMs }: Struck, atSeconds: number): Placed {
    const onMs = this.pageMsAt(atSeconds)
    const ahead = (ms: number) => Math.max(0, ms - this.pageNow() - SENDS_AHEAD_MS)
    let [isSounding, endsAt] = [false, atSeconds + lengthMs / 1000]
    const on = setTimeout(() => {
      isSounding = true
      this.output.send(noteOn(pitch, velocity), onMs)
    }, ahead(onMs))
    const end = (ms: number) => {
      if (!isSounding) return
      isSounding = false
      this.output.send(noteOff(pitch), Math.max(ms, onMs + 1))
    }
    const off = Number.isFinite(lengthMs)
      ? setTimeout(() => end(onMs + lengthMs), ahead(onMs + lengthMs) + 1)
      : undefined
    return {
      get endsAt() {
        return endsAt
      },
      letGo: at => {
        endsAt = Math.min(endsAt, at)
        clearTimeout(off)
        if (isSounding) end(this.pageMsAt(at))
        else clearTimeout(on)
      },
    }
  }
}
