import { median } from '#core/ear/statistics'
import type * as ToneLibrary from 'tone'

type Tone = typeof ToneLibrary

/** Where the piano was recorded: every minor third from A0 to C8. `s` stands for sharp in the file names. */
const SAMPLED = ['A', 'C', 'D#', 'F#'].flatMap(name => Array.from({ length: 8 }, (_, octave) => `${name}${name === 'A' ? octave : octave + 1}`))
  .filter(name => name === 'C8' || !name.endsWith('8'))

/** What has changed, without words: two notes up, two notes down, or one. */
export type Cue = 'up' | 'down' | 'other'

const CUE_NOTES: Record<Cue, readonly string[]> = { up: ['G4', 'C5'], down: ['C5', 'G4'], other: ['E4', 'E4'] }
const CUE_STEP_SECONDS = 0.16

export interface Sound {
  /** Lets a click be heard at a moment of the page's clock, or as soon as it can when that is too near. */
  click: (atMs: number, downbeat: boolean, isFiner?: boolean) => void
  /** Lets clicks through, or takes back those not yet heard. */
  setClicking: (on: boolean) => void
  /** Says softly that something else comes now: faster, slower, or another thing. */
  cue: (kind: Cue) => void
  press: (pitch: number, velocity: number) => void
  release: (pitch: number) => void
  /** Loads the piano, so that nothing is missed when it plays by itself. */
  loadPiano: () => Promise<void>
  /** Sounds a note at a moment of the page's clock, or as soon as it can when that is too near; the piano must be loaded. */
  play: (pitch: number, velocity: number, atMs: number, durationMs: number) => void
  /** Takes back what is still to sound and lets go of what sounds. */
  hush: () => void
  /** Calls back about every 25 ms, also when the page is in the background. */
  everyTick: (act: () => void) => () => void
}

let made: Promise<Sound> | undefined

/** The program's sound, made at the player's first key or click as browsers ask. The library is only loaded then. */
export function useSound() {
  return { start: (): Promise<Sound> => made ??= makeSound().catch((error: unknown) => { made = undefined; throw error }) }
}

async function makeSound(): Promise<Sound> {
  const Tone = await import('tone')
  await Tone.start()
  const context = Tone.getContext() as ToneLibrary.Context
  const raw = context.rawContext as AudioContext
  context.updateInterval = 0.025
  const offset = clockOffset(raw)
  const { strong, weak, gate } = metronome(Tone)
  const bell = new Tone.Synth({ oscillator: { type: 'sine' }, envelope: { attack: 0.01, decay: 0.3, sustain: 0, release: 0.2 }, volume: -12 }).toDestination()
  let piano: ToneLibrary.Sampler | undefined
  let lastClick = 0
  return {
    click: (atMs, downbeat, isFiner = false) => {
      // A voice takes its notes in order; one clock's correction must not send a click behind the one before.
      lastClick = Math.max((atMs + offset()) / 1000, raw.currentTime, lastClick + 0.01)
      const voice = downbeat ? strong : weak
      voice.triggerAttackRelease(downbeat ? 'A5' : 'E5', 0.03, lastClick, downbeat ? 0.9 : isFiner ? 0.25 : 0.6)
    },
    setClicking: on => void gate.gain.setValueAtTime(on ? 1 : 0, raw.currentTime),
    cue: kind => CUE_NOTES[kind].forEach((note, index) => bell.triggerAttackRelease(note, 0.12, raw.currentTime + 0.03 + index * CUE_STEP_SECONDS)),
    press: (pitch, velocity) => {
      piano ??= samplePiano(Tone)
      if (piano.loaded) piano.triggerAttack(Tone.Frequency(pitch, 'midi').toNote(), undefined, velocity / 127)
    },
    release: pitch => void (piano?.loaded && piano.triggerRelease(Tone.Frequency(pitch, 'midi').toNote())),
    loadPiano: async () => {
      piano ??= samplePiano(Tone)
      if (!piano.loaded) await Tone.loaded()
    },
    play: (pitch, velocity, atMs, durationMs) => {
      const at = Math.max((atMs + offset()) / 1000, raw.currentTime)
      piano?.triggerAttackRelease(Tone.Frequency(pitch, 'midi').toNote(), Math.max(0.05, durationMs / 1000), at, velocity / 127)
    },
    // What is planned on the audio clock cannot be taken back one by one: the piano is made anew from its loaded samples.
    hush: () => {
      piano?.dispose()
      piano = undefined
    },
    everyTick: (act) => {
      const tick = () => {
        offset()
        act()
      }
      context.on('tick', tick)
      return () => void context.off('tick', tick)
    },
  }
}

const READ_EVERY_MS = 40
const READINGS_KEPT = 25
/** So many readings this far from the rest mean that the audio clock has stumbled, not that they are bad. */
const STUMBLE_READINGS = 3
const STUMBLE_MS = 30

/**
 * How far the audio clock (what is heard now) is ahead of the page's clock, in ms. The two run on different crystals, so the
 * difference is taken again all the time; the median of the last second keeps one bad reading from moving the beat.
 */
function clockOffset(context: AudioContext): () => number {
  let readings: number[] = []
  let lastMs = -Infinity
  return () => {
    const pageMs = performance.now()
    if (pageMs - lastMs > READ_EVERY_MS) {
      lastMs = pageMs
      const stamp = context.getOutputTimestamp?.()
      readings.push(stamp?.performanceTime && stamp.contextTime !== undefined
        ? stamp.contextTime * 1000 - stamp.performanceTime
        : (context.currentTime - (context.outputLatency || 0)) * 1000 - pageMs)
      const newest = readings.slice(-STUMBLE_READINGS)
      const usual = median(readings)
      if (newest.every(reading => reading - usual > STUMBLE_MS) || newest.every(reading => usual - reading > STUMBLE_MS)) readings = newest
      readings = readings.slice(-READINGS_KEPT)
    }
    return median(readings)
  }
}

function metronome(Tone: Tone) {
  const gate = new Tone.Gain(1).toDestination()
  const voice = (volume: number) => new Tone.Synth({
    oscillator: { type: 'triangle' }, envelope: { attack: 0.001, decay: 0.03, sustain: 0, release: 0.02 }, volume,
  }).connect(gate)
  return { strong: voice(-6), weak: voice(-10), gate }
}

function samplePiano(Tone: Tone): ToneLibrary.Sampler {
  return new Tone.Sampler({
    urls: Object.fromEntries(SAMPLED.map(name => [name, `${name.replace('#', 's')}.mp3`])),
    baseUrl: '/samples/piano/', release: 0.4, volume: -8,
  }).toDestination()
}
