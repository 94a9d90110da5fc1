import type { Instrument, RenderedScore } from '../../sound/performance'
import { asciiText } from './ascii-text'
import { writeTrackFile, type PlacedEvent } from './track-file'
import { START_MARKER } from './write-take'

/** Fine enough that a rounded time is never more than 0.06 ms off above 50 quarter notes a minute. */
const TICKS_PER_QUARTER = 9600
/** Without a tempo of its own a performance is laid out at this, quarter notes a minute. */
const PLAIN_BPM = 120
/** General MIDI: channel 10 is for drums. */
const DRUM_CHANNEL = 9
/**
 * A performance as a Standard MIDI File of type 1: a track with the tempos, then one for each voice under its name, on
 * a channel of its own while there are enough, with its General MIDI program; clicks and drums are on channel 10. What
 * sounds before time 0 shifts the file; a marker then shows where time 0 is.
 */
export function writePerformance({ voices, events, pedals, tempos }: RenderedScore, title = ''): Uint8Array {
  const leadMs = events.reduce((lead, { atMs }) => Math.max(lead, -atMs), 0)
  const steps = tempoSteps(tempos, leadMs)
  const tickAt = (atMs: number) => {
    const fromStartMs = Math.max(0, atMs + leadMs)
    const { fromMs, tick, microseconds } = steps.findLast(step => step.fromMs <= fromStartMs) ?? steps[0]!
    return Math.round(tick + (((fromStartMs - fromMs) * 1000) / microseconds) * TICKS_PER_QUARTER)
  }
  const head: PlacedEvent[] = [
    named(title),
    ...steps.map(({ tick, microseconds }): PlacedEvent => ({
      tick: Math.round(tick),
      order: 1,
      event: { deltaTime: 0, type: 'setTempo', meta: true, microsecondsPerBeat: microseconds },
    })),
  ]
  if (leadMs > 0)
    head.push({ tick: tickAt(0), order: 0, event: { deltaTime: 0, type: 'marker', meta: true, text: START_MARKER } })
  const channelOf = channels(voices.map(({ instrument }) => instrument))
  const tracks = voices.map(({ id, name, instrument }, index): PlacedEvent[] => {
    const channel = channelOf[index]!
    const placed: PlacedEvent[] = [named(name)]
    if (channel !== DRUM_CHANNEL)
      placed.push({
        tick: 0,
        order: 1,
        event: {
          deltaTime: 0,
          channel,
          type: 'programChange',
          programNumber: instrument.kind === 'program' ? instrument.program : 0,
        },
      })
    for (const { atMs, lengthMs, pitch, velocity } of events.filter(({ voice }) => voice === id)) {
      const on = tickAt(atMs)
      const key = { deltaTime: 0, channel, noteNumber: pitch }
      placed.push(
        { tick: on, order: 3, event: { ...key, type: 'noteOn', velocity } },
        { tick: Math.max(on + 1, tickAt(atMs + lengthMs)), order: 2, event: { ...key, type: 'noteOff', velocity: 0 } },
      )
    }
    for (const { atMs, down } of pedals.filter(({ voice }) => voice === id))
      placed.push({
        tick: tickAt(atMs),
        order: 2,
        event: { deltaTime: 0, channel, type: 'controller', controllerType: 64, value: down ? 127 : 0 },
      })
    return placed
  })
  return writeTrackFile([head, ...tracks], TICKS_PER_QUARTER)
}

const named = (text: string): PlacedEvent => ({
  tick: 0,
  order: 0,
  event: { deltaTime: 0, type: 'trackName', meta: true, text: asciiText(text) },
})

/**
 * Where each tempo begins, in ms and ticks from the file's beginning. The format keeps whole microseconds, and ticks
 * are counted with what it keeps.
 */
function tempoSteps(tempos: RenderedScore['tempos'], leadMs: number) {
  const steps: { fromMs: number; tick: number; microseconds: number }[] = []
  for (const { atMs, quarterBpm } of tempos.length > 0 ? tempos : [{ atMs: 0, quarterBpm: PLAIN_BPM }]) {
    const last = steps.at(-1)
    const fromMs = last ? atMs + leadMs : 0
    const microseconds = Math.min(0xff_ff_ff, Math.round(60_000_000 / quarterBpm))
    const tick = last
      ? last.tick + Math.round((((fromMs - last.fromMs) * 1000) / last.microseconds) * TICKS_PER_QUARTER)
      : 0
    // Where the tick that it falls on lies, so that nothing is rounded twice.
    steps.push({
      fromMs: last ? last.fromMs + ((tick - last.tick) * last.microseconds) / 1000 / TICKS_PER_QUARTER : 0,
      tick,
      microseconds,
    })
  }
  return steps
}

/** A channel for each voice: one of its own while there are enough, then those that are left in turn. */
function channels(instruments: readonly Instrument[]): number[] {
  let next = 0
  return instruments.map(({ kind }) => {
    if (kind === 'click' || kind === 'drums') return DRUM_CHANNEL
    const channel = next
    next = (next + 1) % 16
    if (next === DRUM_CHANNEL) next++
    return channel
  })
}
