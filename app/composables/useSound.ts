import { middle } from '#core/ear/statistics'
import type * as ToneLibrary from 'tone'

type Tone = typeof ToneLibrary

/** Where the piano was recorded: every minor third from A0 to C8. `s` stands for sharp in the file names. */
const SAMPLED = ['A', 'C', 'D#', 'F#'].flatMap(name => Array.from({ length: 8 }, (_, octave) => `${name}${name === 'A' ? octave : octave + 1}`))
  .filter(name => name === 'C8' || !name.endsWith('8'))

export interface Sound {
  /** The audio clock now, in ms. */
  nowMs: () => number
  /** The audio clock's time of what is heard at a moment of the page's clock. */
  atPageTime: (pageMs: number) => number
  /** The page's clock at a moment of the audio clock. */
  toPageTime: (audioMs: number) => number
  click: (atMs: number, downbeat: boolean) => void
  press: (pitch: number, velocity: number) => void
  release: (pitch: number) => void
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
  const context = Tone.getContext()
  const raw = context.rawContext as AudioContext
  const offset = clockOffset(raw)
  const { strong, weak } = metronome(Tone)
  let piano: ToneLibrary.Sampler | undefined
  return {
    nowMs: () => raw.currentTime * 1000,
    atPageTime: pageMs => pageMs + offset(),
    toPageTime: audioMs => audioMs - offset(),
    click: (atMs, downbeat) => (downbeat ? strong : weak).triggerAttackRelease(downbeat ? 'A5' : 'E5', 0.03, atMs / 1000, downbeat ? 0.9 : 0.6),
    press: (pitch, velocity) => {
      piano ??= samplePiano(Tone)
      if (piano.loaded) piano.triggerAttack(Tone.Frequency(pitch, 'midi').toNote(), undefined, velocity / 127)
    },
    release: pitch => void (piano?.loaded && piano.triggerRelease(Tone.Frequency(pitch, 'midi').toNote())),
    everyTick: (act) => {
      // An error in one tick must not end the beat.
      const id = context.setInterval(() => {
        try { act() }
        catch (error) { reportError(error) }
      }, 0.025)
      return () => void context.clearInterval(id)
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
      const usual = middle(readings)
      if (newest.every(reading => reading - usual > STUMBLE_MS) || newest.every(reading => usual - reading > STUMBLE_MS)) readings = newest
      readings = readings.slice(-READINGS_KEPT)
    }
    return middle(readings)
  }
}

function metronome(Tone: Tone) {
  const voice = (volume: number) => new Tone.Synth({
    oscillator: { type: 'triangle' }, envelope: { attack: 0.001, decay: 0.03, sustain: 0, release: 0.02 }, volume,
  }).toDestination()
  return { strong: voice(-6), weak: voice(-10) }
}

function samplePiano(Tone: Tone): ToneLibrary.Sampler {
  return new Tone.Sampler({
    urls: Object.fromEntries(SAMPLED.map(name => [name, `${name.replace('#', 's')}.mp3`])),
    baseUrl: '/samples/piano/', release: 0.4, volume: -8,
  }).toDestination()
}
