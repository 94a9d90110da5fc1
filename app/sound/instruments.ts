import { wrap, type Remote } from 'comlink'
import { DRUM_KEYS } from '#core/patterns/pattern'
import { CLICK_KEYS, type Instrument } from '#core/sound/performance'
import { clickWave, drumWave, hertzOf, pluckedWave } from '#core/sound/waveforms'
import type { BankWorker, RenderedTone } from '../workers/bank'
import { leadOf, type Sampling, type Zone } from './sampled-voice'

/** Where the piano was recorded: every minor third from A0 to C8. `s` stands for sharp in the file names. */
const SAMPLED = Array.from({ length: 30 }, (_, place) => 21 + 3 * place)
const NAMES: Readonly<Record<number, string>> = { 0: 'C', 3: 'Ds', 6: 'Fs', 9: 'A' }
const fileOf = (pitch: number): string => `${NAMES[pitch % 12]}${Math.floor(pitch / 12) - 1}.mp3`

/** Computed tones: an octave apart, and their length in seconds. */
const PLUCKED = { from: 24, to: 108, step: 12, seconds: 2.2 }
/**
 * Tones of the sound bank: rendered a fourth apart over the instrument's range and held for this long; drums once each.
 */
const BANK = { from: 29, to: 89, step: 5, heldSeconds: 4, drumSeconds: 1.2 }
const BASS = { from: 26, to: 54 }
/** Programs of the General MIDI list (from 0) that are basses. */
const isBass = (program: number) => program >= 32 && program < 40
/**
 * Keys of the General MIDI percussion map that songs use: the drum set, tambourine, cowbell, and what is shaken and
 * clapped.
 */
const SET = [...Array.from({ length: 25 }, (_, place) => 35 + place), 69, 70, 75, 76, 77, 82]
/** Relative loudness of each, and the release after a key is let go, s: own choice, by ear. */
const LEVELS = { piano: 0.85, plucked: 0.8, program: 3.2, drums: 2.6, click: 0.5, computedDrums: 0.5 } as const
const RELEASE = { piano: 0.35, program: 0.18 } as const

/** How much of what was asked for has come, from 0 to 1. */
export type Progress = (share: number) => void

/**
 * The recordings and computed tones there are, each loaded once, kept for as long as the page is open: nothing is
 * fetched again after a stop.
 */
export interface Instruments {
  /** What can sound now: the recordings where they are there, computed tones until then. */
  nowOf: (instrument: Instrument) => Sampling
  /** The recordings; fails where they cannot be fetched, and tries again when asked again. */
  load: (instrument: Instrument, progress?: Progress) => Promise<Sampling>
}

export function createInstruments(
  context: BaseAudioContext,
  {
    fetchBytes = fetched,
    bank = startBank,
  }: {
    fetchBytes?: (url: string) => Promise<ArrayBuffer>
    bank?: () => Promise<Pick<Remote<BankWorker>, 'load' | 'render'>>
  } = {},
): Instruments {
  const loaded = new Map<string, Sampling>()
  const loading = new Map<string, Promise<Sampling>>()
  const computed = new Map<string, Sampling>()
  let worker: ReturnType<typeof bank> | undefined

  const bufferOf = (wave: Float32Array<ArrayBuffer>): AudioBuffer => {
    const buffer = context.createBuffer(1, Math.max(1, wave.length), context.sampleRate)
    buffer.copyToChannel(wave, 0)
    return buffer
  }
  const zone = (pitch: number, wave: Float32Array<ArrayBuffer>): Zone => ({ pitch, buffer: bufferOf(wave), lead: 0 })

  function compute(instrument: Instrument): Sampling {
    if (instrument.kind === 'click') {
      return {
        zones: (['downbeat', 'beat', 'finer'] as const).map(tone =>
          zone(CLICK_KEYS[tone], clickWave(tone, context.sampleRate) as Float32Array<ArrayBuffer>),
        ),
        release: 0,
        ringsOn: true,
        level: LEVELS.click,
      }
    }
    if (instrument.kind === 'drums') {
      return {
        zones: Object.values(DRUM_KEYS).map(key =>
          zone(key, drumWave(key, context.sampleRate) as Float32Array<ArrayBuffer>),
        ),
        release: 0,
        ringsOn: true,
        level: LEVELS.computedDrums,
      }
    }
    const { from, to, step, seconds } = PLUCKED
    return {
      zones: Array.from({ length: (to - from) / step + 1 }, (_, place) => from + place * step).map(pitch =>
        zone(pitch, pluckedWave(hertzOf(pitch), context.sampleRate, seconds) as Float32Array<ArrayBuffer>),
      ),
      release: RELEASE.piano,
      level: LEVELS.plucked,
    }
  }

  async function loadPiano(progress: Progress): Promise<Sampling> {
    let done = 0
    const zones = await Promise.all(
      SAMPLED.map(async (pitch): Promise<Zone> => {
        const buffer = await context.decodeAudioData(await fetchBytes(`/samples/piano/${fileOf(pitch)}`))
        progress(++done / SAMPLED.length)
        return { pitch, buffer, lead: leadOf(buffer) }
      }),
    )
    return { zones, release: RELEASE.piano, level: LEVELS.piano }
  }

  async function loadFromBank(
    instrument: Extract<Instrument, { kind: 'program' | 'drums' }>,
    progress: Progress,
  ): Promise<Sampling> {
    worker ??= bank().catch((error: unknown) => {
      worker = undefined
      throw error
    })
    const player = await worker
    await player.load('/samples/bank/general-midi.sf3', context.sampleRate)
    progress(0.5)
    const zoneOf = ({ pitch, wave }: RenderedTone): Zone => {
      const buffer = bufferOf(wave)
      return { pitch, buffer, lead: leadOf(buffer) }
    }
    if (instrument.kind === 'drums') {
      const tones = await player.render({ program: 0, isDrums: true, pitches: SET, heldSeconds: BANK.drumSeconds })
      return { zones: tones.map(zoneOf), release: 0, ringsOn: true, level: LEVELS.drums }
    }
    const { from, to } = isBass(instrument.program) ? BASS : BANK
    const pitches = Array.from(
      { length: Math.floor((to - from) / BANK.step) + 1 },
      (_, place) => from + place * BANK.step,
    )
    const tones = await player.render({
      program: instrument.program,
      isDrums: false,
      pitches,
      heldSeconds: BANK.heldSeconds,
    })
    return { zones: tones.map(zoneOf), release: RELEASE.program, level: LEVELS.program }
  }

  return {
    nowOf(instrument) {
      const name = nameOf(instrument)
      const simple = instrument.kind === 'program' ? 'piano' : name
      const there = loaded.get(name) ?? computed.get(simple)
      if (there) return there
      const made = compute(instrument)
      computed.set(simple, made)
      return made
    },
    load(instrument, progress = () => {}) {
      const name = nameOf(instrument)
      if (instrument.kind === 'click') return Promise.resolve(this.nowOf(instrument))
      const known = loading.get(name)
      if (known) return known
      const made = (instrument.kind === 'piano' ? loadPiano(progress) : loadFromBank(instrument, progress)).then(
        sampling => {
          loaded.set(name, sampling)
          progress(1)
          return sampling
        },
      )
      loading.set(name, made)
      made.catch(() => loading.delete(name))
      return made
    },
  }
}

const nameOf = (instrument: Instrument): string =>
  instrument.kind === 'program' ? `program ${instrument.program}` : instrument.kind

async function fetched(url: string): Promise<ArrayBuffer> {
  const answer = await fetch(url)
  if (!answer.ok) throw new Error(`${url}: ${answer.status}`)
  return await answer.arrayBuffer()
}

const startBank = () =>
  Promise.resolve(
    wrap<BankWorker>(new Worker(new URL('../workers/bank.ts', import.meta.url), { type: 'module', name: 'bank' })),
  )
