import FFT from 'fft.js'
import type { SoundEvent } from '../sound/performance'

/**
 * Analysis windows: samples at a common rate, and the hop between windows. 4,096 samples at 11,025 Hz separate half
 * steps from about 130 Hz upward.
 */
export const ANALYSIS = { rate: 11_025, window: 2_048, hop: 512, lowestHz: 80, highestHz: 2_500 } as const
/** From one frame to the next, seconds. */
export const HOP_SECONDS = ANALYSIS.hop / ANALYSIS.rate
const CHROMA = 12

/** What each frame holds: twelve pitch classes as they sound, and twelve as they begin; rows of 24. */
export interface Frames {
  readonly count: number
  readonly values: Float32Array
}
export const WIDTH = 2 * CHROMA

/**
 * Samples brought to the rate at which they are looked at: the mean of each stretch, which is enough of a filter for
 * chroma.
 */
export function downsampled(wave: Float32Array, sampleRate: number): Float32Array {
  const step = sampleRate / ANALYSIS.rate
  return Float32Array.from({ length: Math.floor(wave.length / step) }, (_, index) => {
    const [from, to] = [
      Math.floor(index * step),
      Math.max(Math.floor(index * step) + 1, Math.floor((index + 1) * step)),
    ]
    let sum = 0
    for (let at = from; at < to; at++) sum += wave[at]!
    return sum / (to - from)
  })
}

/**
 * Chroma of a recording (Müller 2015, Fundamentals of Music Processing, ch. 3; unchecked), with what begins in each
 * frame beside it.
 */
export function framesOfAudio(wave: Float32Array): Frames {
  const { window, hop, rate, lowestHz, highestHz } = ANALYSIS
  const count = Math.max(0, Math.floor((wave.length - window) / hop) + 1)
  const fft = new FFT(window)
  const shape = Float64Array.from(
    { length: window },
    (_, index) => 0.5 - 0.5 * Math.cos((2 * Math.PI * index) / window),
  )
  const [input, spectrum] = [new Float64Array(window), fft.createComplexArray()]
  const classOf = Int8Array.from({ length: window / 2 }, (_, bin) => {
    const hz = (bin * rate) / window
    return hz < lowestHz || hz > highestHz
      ? -1
      : ((Math.round(69 + 12 * Math.log2(hz / 440)) % CHROMA) + CHROMA) % CHROMA
  })
  const chroma = new Float32Array(count * CHROMA)
  for (let frame = 0; frame < count; frame++) {
    for (let index = 0; index < window; index++) input[index] = wave[frame * hop + index]! * shape[index]!
    fft.realTransform(spectrum, input)
    for (let bin = 1; bin < window / 2; bin++) {
      const pitchClass = classOf[bin]!
      if (pitchClass >= 0)
        chroma[frame * CHROMA + pitchClass]! += Math.hypot(spectrum[2 * bin]!, spectrum[2 * bin + 1]!)
    }
    // Loudness is heard as its logarithm.
    for (let pitchClass = 0; pitchClass < CHROMA; pitchClass++)
      chroma[frame * CHROMA + pitchClass] = Math.log1p(chroma[frame * CHROMA + pitchClass]!)
  }
  return framesOf(chroma, count)
}

/** A struck string dies away, seconds to 1/e; its third and fifth partial sound as other pitch classes. */
const DECAY_SECONDS = 0.9
const PARTIALS: readonly [halfSteps: number, level: number][] = [
  [0, 1],
  [12, 0.6],
  [19, 0.35],
  [24, 0.25],
  [28, 0.18],
]

/** What the same would be for notes that sound as they are written: events in ms, stretched by a factor. */
export function framesOfEvents(events: readonly SoundEvent[], lengthMs: number, stretch = 1): Frames {
  const count = Math.ceil((lengthMs * stretch) / 1000 / HOP_SECONDS) + 1
  const chroma = new Float32Array(count * CHROMA)
  // A window looks ahead: what begins is seen in the frames whose window holds enough of it.
  const lookAhead = ANALYSIS.window / 2 / ANALYSIS.rate
  for (const { atMs, lengthMs: heldMs, pitch, velocity } of events) {
    const from = (atMs * stretch) / 1000 - lookAhead
    const first = Math.max(0, Math.round(from / HOP_SECONDS))
    const last = Math.min(count - 1, Math.round((from + (heldMs * stretch) / 1000) / HOP_SECONDS))
    for (let frame = first; frame <= last; frame++) {
      const level = (velocity / 127) * Math.exp((-(frame - first) * HOP_SECONDS) / DECAY_SECONDS)
      for (const [halfSteps, share] of PARTIALS)
        chroma[frame * CHROMA + ((pitch + halfSteps) % CHROMA)]! += level * share
    }
  }
  for (let index = 0; index < chroma.length; index++) chroma[index] = Math.log1p(6 * chroma[index]!)
  return framesOf(chroma, count)
}

/**
 * Chroma as shapes (each frame of length one where anything sounds), and what has grown since the frame before the
 * last.
 */
function framesOf(chroma: Float32Array, count: number): Frames {
  const values = new Float32Array(count * WIDTH)
  let loudest = 0
  const norms = new Float32Array(count)
  for (let frame = 0; frame < count; frame++) {
    let sum = 0
    for (let pitchClass = 0; pitchClass < CHROMA; pitchClass++) sum += chroma[frame * CHROMA + pitchClass]! ** 2
    norms[frame] = Math.sqrt(sum)
    loudest = Math.max(loudest, norms[frame]!)
  }
  let mostOnset = 0
  const onsets = new Float32Array(count * CHROMA)
  for (let frame = 0; frame < count; frame++) {
    // What is nearly silent has no shape.
    const norm = Math.max(norms[frame]!, 0.1 * loudest) || 1
    for (let pitchClass = 0; pitchClass < CHROMA; pitchClass++) {
      values[frame * WIDTH + pitchClass] = chroma[frame * CHROMA + pitchClass]! / norm
      const before = chroma[Math.max(0, frame - 2) * CHROMA + pitchClass]!
      const grown = Math.max(0, chroma[frame * CHROMA + pitchClass]! - before)
      onsets[frame * CHROMA + pitchClass] = grown
      mostOnset = Math.max(mostOnset, grown)
    }
  }
  for (let frame = 0; frame < count; frame++) {
    for (let pitchClass = 0; pitchClass < CHROMA; pitchClass++)
      values[frame * WIDTH + CHROMA + pitchClass] = Math.sqrt(onsets[frame * CHROMA + pitchClass]! / (mostOnset || 1))
  }
  return { count, values }
}

/** Means of groups of frames, for a first, coarse pass. */
export function coarser({ count, values }: Frames, many: number): Frames {
  const fewer = Math.ceil(count / many)
  const means = new Float32Array(fewer * WIDTH)
  for (let frame = 0; frame < count; frame++) {
    const at = Math.floor(frame / many) * WIDTH
    for (let index = 0; index < WIDTH; index++) means[at + index]! += values[frame * WIDTH + index]! / many
  }
  return { count: fewer, values: means }
}

/** The same music transposed by half steps. */
export function inKey({ count, values }: Frames, halfSteps: number): Frames {
  const moved = new Float32Array(values.length)
  for (let index = 0; index < values.length; index++) {
    const [group, pitchClass] = [index - (index % CHROMA), index % CHROMA]
    moved[group + ((pitchClass + halfSteps) % CHROMA)] = values[index]!
  }
  return { count, values: moved }
}
