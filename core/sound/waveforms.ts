/** Sounds that are computed, not recorded: mono samples from -1 to 1. */

/** How a click sounds: its tone, Hz, how fast it dies away, seconds to 1/e, and how loud it is. */
interface ClickTone {
  hz: number
  decay: number
  level: number
}

const CLICK_TONES: Readonly<Record<'downbeat' | 'beat' | 'finer', ClickTone>> = {
  downbeat: { hz: 1760, decay: 0.012, level: 0.9 },
  beat: { hz: 1318.5, decay: 0.012, level: 0.75 },
  finer: { hz: 987.8, decay: 0.008, level: 0.6 },
}
const CLICK_SECONDS = 0.06

/** A click that begins at its very first sample, as sharp as a wood block: what is heard is where it was placed. */
export function clickWave(tone: keyof typeof CLICK_TONES, sampleRate: number): Float32Array {
  const { hz, decay, level } = CLICK_TONES[tone]
  return Float32Array.from({ length: Math.round(CLICK_SECONDS * sampleRate) }, (_, index) => {
    const t = index / sampleRate
    return level * Math.cos(2 * Math.PI * hz * t) * Math.exp(-t / decay)
  })
}

/** Harmonics of a struck string and how loud each is: own choice, soft enough to be listened to for long. */
const PARTIALS = [1, 0.5, 0.28, 0.14, 0.08, 0.04]
/** Decay of a string at middle C, seconds to 1/e; the factor for each octave up. */
const STRING = { decay: 0.9, octave: 0.72, attack: 0.004, level: 0.32 }
/** Above this share of the sample rate a partial would come back as another tone. */
const HIGHEST = 0.45

/** A plucked tone of a frequency, for instruments whose recordings are not there (yet). */
export function pluckedWave(hz: number, sampleRate: number, seconds: number): Float32Array {
  const wave = new Float32Array(Math.round(seconds * sampleRate))
  const decay = STRING.decay * STRING.octave ** Math.log2(hz / 261.63)
  PARTIALS.forEach((level, place) => {
    const partial = place + 1
    if (hz * partial > HIGHEST * sampleRate) return
    // A rotating phasor instead of a sine for each sample; higher partials decay sooner.
    const [cos, sin] = [
      Math.cos((2 * Math.PI * hz * partial) / sampleRate),
      Math.sin((2 * Math.PI * hz * partial) / sampleRate),
    ]
    const fading = Math.exp(-(0.6 + 0.4 * partial) / (decay * sampleRate))
    let [x, y] = [STRING.level * level, 0]
    for (let index = 0; index < wave.length; index++) {
      wave[index]! += y
      const turned = x * cos - y * sin
      y = (x * sin + y * cos) * fading
      x = turned * fading
    }
  })
  const rise = STRING.attack * sampleRate
  for (let index = 0; index < Math.min(rise, wave.length); index++) wave[index]! *= index / rise
  return wave
}

/** How drums are synthesised: a falling tone, Hz from and to, the share of noise, and the decay of both, seconds. */
interface DrumSound {
  from: number
  to: number
  tone: number
  noise: number
  decay: number
  bright: boolean
}
const DRUM_SOUNDS: Readonly<Record<number, DrumSound>> = {
  36: { from: 130, to: 48, tone: 0.9, noise: 0.05, decay: 0.11, bright: false },
  37: { from: 1700, to: 1500, tone: 0.25, noise: 0.25, decay: 0.018, bright: true },
  38: { from: 220, to: 160, tone: 0.35, noise: 0.5, decay: 0.08, bright: true },
  42: { from: 0, to: 0, tone: 0, noise: 0.3, decay: 0.022, bright: true },
  44: { from: 0, to: 0, tone: 0, noise: 0.22, decay: 0.03, bright: true },
  45: { from: 150, to: 90, tone: 0.7, noise: 0.05, decay: 0.14, bright: false },
  46: { from: 0, to: 0, tone: 0, noise: 0.3, decay: 0.16, bright: true },
  47: { from: 200, to: 120, tone: 0.7, noise: 0.05, decay: 0.12, bright: false },
  49: { from: 0, to: 0, tone: 0, noise: 0.4, decay: 0.5, bright: true },
  50: { from: 260, to: 160, tone: 0.7, noise: 0.05, decay: 0.1, bright: false },
  51: { from: 3300, to: 3300, tone: 0.06, noise: 0.22, decay: 0.22, bright: true },
  82: { from: 0, to: 0, tone: 0, noise: 0.2, decay: 0.035, bright: true },
}
const PLAIN_DRUM: DrumSound = { from: 400, to: 300, tone: 0.3, noise: 0.2, decay: 0.05, bright: true }
const LONGEST_DECAYS = 5

/** A drum of the General MIDI percussion map, for when its recording is not there (yet). The same each time. */
export function drumWave(key: number, sampleRate: number): Float32Array {
  const { from, to, tone, noise, decay, bright } = DRUM_SOUNDS[key] ?? PLAIN_DRUM
  let [seed, before, phase] = [key * 7919 + 1, 0, 0]
  return Float32Array.from({ length: Math.round(LONGEST_DECAYS * decay * sampleRate) }, (_, index) => {
    const t = index / sampleRate
    // Noise from a linear congruential generator (Numerical Recipes, unchecked).
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) | 0
    const white = seed / 2 ** 31
    const hiss = bright ? white - before : white
    before = white
    phase += (to + (from - to) * Math.exp(-t / (decay / 3))) / sampleRate
    return (tone * Math.sin(2 * Math.PI * phase) + noise * hiss) * Math.exp(-t / decay)
  })
}

/** Equal temperament from A4 = 440 Hz (ISO 16). */
export const hertzOf = (pitch: number): number => 440 * 2 ** ((pitch - 69) / 12)
