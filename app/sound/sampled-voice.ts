import { least } from 'd3-array'
import type { Placed, Struck, Voice } from './voice'

/** A recorded, or computed, tone; `lead`: seconds of silence before it begins. */
export interface Zone {
  pitch: number
  buffer: AudioBuffer
  lead: number
}

export interface Sampling {
  zones: readonly Zone[]
  /** Release after a key is let go, seconds to silence. */
  release: number
  /** Sounds to its end whenever it is let go, as drums and clicks do. */
  ringsOn?: true
  /** Relative loudness. */
  level: number
}

/** Fade of a stopped sound, seconds: short enough to seem immediate, long enough not to click. */
const STOP_SECONDS = 0.01
/** How much louder a harder stroke is: loudness goes faster than velocity (common practice of samplers). */
const VELOCITY_CURVE = 1.4
/** A decay is taken as ended after this many time constants: 40 dB. */
const CONSTANTS = 4.6

/** Plays tones from recordings, each pitch from the nearest one, and places every one of them singly. */
export class SampledVoice implements Voice {
  constructor(
    private readonly context: BaseAudioContext,
    private readonly out: AudioNode,
    private sampling: Sampling,
  ) {}

  /** Sounds from other recordings from now on: when they have come. */
  exchange(sampling: Sampling): void {
    this.sampling = sampling
  }

  place({ pitch, velocity, lengthMs }: Struck, atSeconds: number): Placed {
    const { zones, release, ringsOn, level } = this.sampling
    const { pitch: zonePitch, buffer, lead } = least(zones, zone => Math.abs(zone.pitch - pitch))!
    const rate = 2 ** ((pitch - zonePitch) / 12)
    const source = this.context.createBufferSource()
    const gain = this.context.createGain()
    source.buffer = buffer
    source.playbackRate.value = rate
    const loudness = level * (velocity / 127) ** VELOCITY_CURVE
    gain.gain.setValueAtTime(loudness, 0)
    source.connect(gain).connect(this.out)
    source.onended = () => gain.disconnect()
    source.start(atSeconds, lead)
    const wholeEnd = atSeconds + (buffer.duration - lead) / rate
    let endsAt = wholeEnd
    const fade = (from: number, seconds: number) => {
      gain.gain.cancelScheduledValues(from)
      gain.gain.setValueAtTime(loudness, Math.max(0, from))
      gain.gain.setTargetAtTime(0, from, seconds / CONSTANTS)
      endsAt = Math.min(wholeEnd, from + seconds)
      source.stop(endsAt)
    }
    let fadesFrom = Infinity
    if (!ringsOn && Number.isFinite(lengthMs)) {
      fadesFrom = atSeconds + lengthMs / 1000
      if (fadesFrom < wholeEnd) fade(fadesFrom, release)
    }
    return {
      get endsAt() {
        return endsAt
      },
      letGo: (at, how) => {
        if (at <= atSeconds) {
          endsAt = Math.min(endsAt, at)
          source.stop(0)
          return
        }
        if (how === 'key' && (ringsOn || at >= fadesFrom)) return
        if (how === 'stop' && at > fadesFrom) {
          // It dies away already: faster now, from wherever it has come.
          gain.gain.cancelAndHoldAtTime?.(at)
          gain.gain.setTargetAtTime(0, at, STOP_SECONDS / CONSTANTS)
          endsAt = Math.min(endsAt, at + STOP_SECONDS)
          source.stop(endsAt)
          return
        }
        fadesFrom = at
        fade(at, how === 'key' ? release : STOP_SECONDS)
      },
    }
  }
}

/** Where a recording begins to sound, seconds: encoders put silence before it. */
export function leadOf(buffer: AudioBuffer): number {
  const wave = buffer.getChannelData(0)
  let peak = 0
  const head = Math.min(wave.length, buffer.sampleRate)
  for (let index = 0; index < head; index++) peak = Math.max(peak, Math.abs(wave[index]!))
  const first = wave.findIndex(value => Math.abs(value) > LEAD_SHARE * peak)
  return first <= 0 ? 0 : Math.max(0, first / buffer.sampleRate - LEAD_SECONDS)
}
/** A tone begins where this share of its peak is reached, minus this time: the hammer's noise belongs to it. */
const LEAD_SHARE = 0.02
const LEAD_SECONDS = 0.001
