import { expose, transfer } from 'comlink'
import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core'

/** One tone of an instrument, from its first sample on, mono. */
export interface RenderedTone {
  pitch: number
  wave: Float32Array<ArrayBuffer>
}

/**
 * What is to be rendered: an instrument by its General MIDI program (from 0), or drums; how long each key is held,
 * seconds, with a release after it.
 */
export interface ToneRequest {
  program: number
  isDrums: boolean
  pitches: readonly number[]
  heldSeconds: number
}

const DRUM_CHANNEL = 9
const BLOCK = 128
const VELOCITY = 110
/** What is heard of a tone after its key is let go, seconds: the players let go by themselves. */
const AFTER_SECONDS = 0.4
const SILENT = 0.0005

let sampleRate = 0
let synth: Promise<SpessaSynthProcessor> | undefined

async function makeSynth(url: string): Promise<SpessaSynthProcessor> {
  const answer = await fetch(url)
  if (!answer.ok) throw new Error(`the instruments could not be loaded (${answer.status})`)
  const made = new SpessaSynthProcessor(sampleRate, { enableEffects: false, eventsEnabled: false } as never)
  made.soundBankManager.addSoundBank(SoundBankLoader.fromArrayBuffer(await answer.arrayBuffer()), 'general-midi')
  await made.processorInitialized
  return made
}

const bank = {
  /** Loads the bank, once. Fails where it cannot be fetched; asked again it tries again. */
  async load(url: string, rate: number): Promise<void> {
    sampleRate = rate
    synth ??= makeSynth(url).catch((error: unknown) => {
      synth = undefined
      throw error
    })
    await synth
  },

  /** Renders tones one after the other; silence at their ends is left off. */
  async render({ program, isDrums, pitches, heldSeconds }: ToneRequest): Promise<RenderedTone[]> {
    const player = await synth!
    const channel = isDrums ? DRUM_CHANNEL : 0
    player.programChange(channel, program)
    const tones = pitches.map((pitch): RenderedTone => {
      const held = Math.round(heldSeconds * sampleRate)
      const length = held + Math.round(AFTER_SECONDS * sampleRate)
      const [left, right] = [new Float32Array(length), new Float32Array(length)]
      player.noteOn(channel, pitch, VELOCITY)
      for (let at = 0; at < length; at += BLOCK) {
        if (at <= held && held < at + BLOCK) player.noteOff(channel, pitch)
        player.process(left, right, at, Math.min(BLOCK, length - at))
      }
      // What still rings must not ring into the next one.
      const rest = new Float32Array(BLOCK)
      for (let block = 0; player.voiceCount > 0 && block < MAX_REST_BLOCKS; block++)
        player.process(rest, rest, 0, BLOCK)
      for (let index = 0; index < length; index++) left[index] = (left[index]! + right[index]!) / 2
      return { pitch, wave: left.slice(0, left.findLastIndex(value => Math.abs(value) > SILENT) + 1) }
    })
    return transfer(
      tones,
      tones.map(({ wave }) => wave.buffer),
    )
  },
}
const MAX_REST_BLOCKS = 4_000

export type BankWorker = typeof bank

expose(bank)
