import { clearInterval as clearTicks, setInterval as setTicks } from 'worker-timers'
import type { Voice as SoundingVoice } from '#core/sound/performance'
import { audioClock } from './audio-clock'
import { createInstruments, type Progress } from './instruments'
import { MidiVoice } from './midi-voice'
import { channelOf, createMixer } from './mixer'
import { SampledVoice, type Sampling, type Zone } from './sampled-voice'
import type { Cue, Sound } from './sound'
import { createTransport, type Line } from './transport'

const CUE_PITCHES: Record<Cue, readonly number[]> = { up: [67, 72], down: [72, 67], other: [64, 64] }
const CUE_STEP_MS = 160
const CUE = { velocity: 60, lengthMs: 120 }

const TICK_MS = 25

/** Calls back every 25 ms from a thread of its own: a page that lies behind another is not slowed down. */
function everyTick(act: () => void): () => void {
  const ticks = setTicks(act, TICK_MS)
  return () => clearTicks(ticks)
}

/** Rendered spans of recordings kept ready. */
const RECORDINGS_KEPT = 4
const CUE_VOICE = 'cue'
const KEYS: SoundingVoice = { id: 'keys', name: 'Your keys', instrument: { kind: 'piano' } }
const CLICK: SoundingVoice = { id: 'click', name: 'Click', instrument: { kind: 'click' } }

/** The program's sound on the computer's own output; made where the browser lets it, at a key or a click. */
export async function makeSound(): Promise<Sound> {
  const context = new AudioContext({ latencyHint: 'interactive' })
  await context.resume()
  const clock = audioClock(context)
  const mixer = createMixer(context)
  const instruments = createInstruments(context)
  const voices = new Map<string, { voice: SampledVoice; instrument: string }>()

  const add = ({ id, instrument }: SoundingVoice) => {
    const known = voices.get(id)
    const name = JSON.stringify(instrument)
    if (known?.instrument === name) return
    const sampling = instruments.nowOf(instrument)
    if (known) known.voice.exchange(sampling)
    voices.set(id, {
      voice:
        known?.voice ?? new SampledVoice(context, mixer.input(id === CUE_VOICE ? 'click' : channelOf(id)), sampling),
      instrument: name,
    })
  }
  async function prepare(wanted: readonly SoundingVoice[], progress: Progress = () => {}): Promise<void> {
    const shares = wanted.map(() => 0)
    await Promise.all(
      wanted.map(async (one, place) => {
        add(one)
        const sampling = await instruments
          .load(one.instrument, share => {
            shares[place] = share
            progress(shares.reduce((sum, each) => sum + each, 0) / shares.length)
          })
          .catch(() => undefined)
        const now = voices.get(one.id)
        if (sampling && now?.instrument === JSON.stringify(one.instrument)) now.voice.exchange(sampling)
      }),
    )
    progress(1)
  }
  for (const one of [CLICK, KEYS, { ...KEYS, id: CUE_VOICE }]) add(one)

  let piano: MidiVoice | undefined
  const transport = createTransport({
    clock,
    everyTick,
    voiceOf: id => (piano && id !== CUE_VOICE && channelOf(id) === 'piano' ? piano : voices.get(id)?.voice),
  })
  const own = transport.line()
  const held = new Map<number, ReturnType<Line['strike']>>()
  const release = (pitch: number) => {
    held.get(pitch)?.letGo(performance.now())
    held.delete(pitch)
  }
  let recordings: Zone[] = []
  let newest = 0
  function addRecording(buffer: AudioBuffer): number {
    recordings = [...recordings, { pitch: ++newest, buffer, lead: 0 }].slice(-RECORDINGS_KEPT)
    const sampling: Sampling = { zones: recordings, release: 0.05, level: 1 }
    const known = voices.get('file')
    if (known) known.voice.exchange(sampling)
    else voices.set('file', { voice: new SampledVoice(context, mixer.input('file'), sampling), instrument: 'file' })
    return newest
  }
  return {
    ...transport,
    prepare,
    mixer,
    addRecording,
    setPianoOutput: output => {
      piano = output && new MidiVoice(output, clock.pageMsAt)
    },
    everyTick: act =>
      everyTick(() => {
        clock.secondsAt(performance.now())
        act()
      }),
    cue: kind =>
      own.add(
        CUE_PITCHES[kind].map((pitch, index) => ({ voice: CUE_VOICE, atMs: 30 + index * CUE_STEP_MS, pitch, ...CUE })),
        performance.now(),
      ),
    press(pitch, velocity) {
      release(pitch)
      void prepare([KEYS])
      held.set(pitch, own.strike(KEYS.id, { pitch, velocity, lengthMs: Infinity }, performance.now()))
    },
    release,
    outputDelayMs: () => (context.baseLatency + (context.outputLatency || 0)) * 1000,
  }
}
