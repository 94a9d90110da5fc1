import type { MidiData, MidiEvent } from 'midi-file'
import { gatherTake, type KeyEvent, type Take } from '../../ear/take'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'
import { inTicks, openMidi } from './midi-file'
import { START_MARKER } from './write-take'

/**
 * Reads a Standard MIDI File (type 0 or 1; every track and channel) as a take. Time 0 is the file's beginning, or the
 * marker that Half Step writes where the pass begins. Throws UnusableInput.
 */
export function readTake(bytes: Uint8Array): Take {
  const midi = openMidi(bytes)
  const events: KeyEvent[] = []
  let startMs = 0
  for (const { event, atMs } of inMilliseconds(midi)) {
    if (event.type === 'marker' && event.text === START_MARKER) startMs = atMs
    else if (event.type === 'noteOn' && event.velocity > 0)
      events.push({ kind: 'down', pitch: event.noteNumber, velocity: event.velocity, atMs })
    else if (event.type === 'noteOn' || event.type === 'noteOff')
      events.push({ kind: 'up', pitch: event.noteNumber, atMs })
    else if (event.type === 'controller' && event.controllerType === 64)
      events.push({ kind: 'pedal', down: event.value >= 64, atMs })
    if (events.length > EVENTS_A_NOTE * LIMITS.takeNotes)
      throw new UnusableInput('MIDI file', `more than ${LIMITS.takeNotes} notes`)
  }
  const [first, last] = [events[0]?.atMs ?? 0, events.at(-1)?.atMs ?? 0]
  if (last - first > LIMITS.takeMs)
    throw new UnusableInput(
      'MIDI file',
      `it lasts ${Math.round((last - first) / 60_000)} minutes from the first key to the last; at most ${LIMITS.takeMs / 60_000} are read`,
    )
  return gatherTake(events.map(event => ({ ...event, atMs: event.atMs - startMs })))
}

/** Key down, key up, and what the pedal does meanwhile. */
const EVENTS_A_NOTE = 6

function* inMilliseconds(midi: MidiData): Generator<{ event: MidiEvent; atMs: number }> {
  const { ticksPerBeat, framesPerSecond, ticksPerFrame } = midi.header
  let msPerTick = ticksPerBeat ? 500 / ticksPerBeat : 1000 / (framesPerSecond! * (ticksPerFrame || 1))
  let lastTick = 0
  let atMs = 0
  for (const { event, tick } of inTicks(midi)) {
    atMs += (tick - lastTick) * msPerTick
    lastTick = tick
    if (event.type === 'setTempo' && ticksPerBeat && event.microsecondsPerBeat > 0)
      msPerTick = event.microsecondsPerBeat / 1000 / ticksPerBeat
    yield { event, atMs }
  }
}
