import { parseMidi, type MidiData, type MidiEvent } from 'midi-file'
import { gatherTake, type KeyEvent, type Take } from '../../ear/take'
import { LIMITS } from '../limits'
import { UnusableInput } from '../unusable'
import { START_MARKER } from './write-take'

/**
 * Reads a Standard MIDI File (type 0 or 1; every track and channel) as a take. Time 0 is the file's beginning, or the
 * marker that Half Step writes where the pass begins. Throws UnusableInput.
 */
export function readTake(bytes: Uint8Array): Take {
  const midi = parse(bytes)
  const events: KeyEvent[] = []
  let startMs = 0
  for (const { event, atMs } of inMilliseconds(midi)) {
    if (event.type === 'marker' && event.text === START_MARKER) startMs = atMs
    else if (event.type === 'noteOn' && event.velocity > 0) events.push({ kind: 'down', pitch: event.noteNumber, velocity: event.velocity, atMs })
    else if (event.type === 'noteOn' || event.type === 'noteOff') events.push({ kind: 'up', pitch: event.noteNumber, atMs })
    else if (event.type === 'controller' && event.controllerType === 64) events.push({ kind: 'pedal', down: event.value >= 64, atMs })
    if (events.length > 4 * LIMITS.notes) throw new UnusableInput('MIDI file', `more than ${LIMITS.notes} notes`)
  }
  return gatherTake(events.map(event => ({ ...event, atMs: event.atMs - startMs })))
}

function parse(bytes: Uint8Array): MidiData {
  if (bytes.length > LIMITS.fileBytes) throw new UnusableInput('MIDI file', `it has ${bytes.length} bytes; at most ${LIMITS.fileBytes} are read`)
  if (bytes.length < 14 || String.fromCharCode(...bytes.subarray(0, 4)) !== 'MThd') {
    throw new UnusableInput('byte 0', 'a Standard MIDI File was expected, which begins with "MThd"')
  }
  let midi: MidiData
  try {
    midi = parseMidi(bytes)
  }
  catch (error) {
    throw new UnusableInput('MIDI file', `it is damaged (${String(error instanceof Error ? error.message : error).slice(0, 120)})`)
  }
  if (midi.header.format !== 0 && midi.header.format !== 1) throw new UnusableInput('byte 8', `a file of type 0 or 1 was expected and this is type ${midi.header.format}`)
  if (!midi.header.ticksPerBeat && !midi.header.framesPerSecond) throw new UnusableInput('byte 12', 'the time division is 0')
  const damaged = midi.tracks.findIndex(track => track.some(event => !Number.isFinite(event.deltaTime)
    || ('noteNumber' in event && !(event.noteNumber >= 0 && event.noteNumber <= 127))))
  if (damaged >= 0) throw new UnusableInput(`track ${damaged + 1}`, 'it is damaged (an event is cut off)')
  return midi
}

function* inMilliseconds(midi: MidiData): Generator<{ event: MidiEvent, atMs: number }> {
  const events = midi.tracks.flatMap((track) => {
    let tick = 0
    return track.map(event => ({ event, tick: tick += event.deltaTime }))
  }).sort((a, b) => a.tick - b.tick)
  const { ticksPerBeat, framesPerSecond, ticksPerFrame } = midi.header
  let msPerTick = ticksPerBeat ? 500 / ticksPerBeat : 1000 / (framesPerSecond! * (ticksPerFrame || 1))
  let lastTick = 0
  let atMs = 0
  for (const { event, tick } of events) {
    atMs += (tick - lastTick) * msPerTick
    lastTick = tick
    if (event.type === 'setTempo' && ticksPerBeat && event.microsecondsPerBeat > 0) msPerTick = event.microsecondsPerBeat / 1000 / ticksPerBeat
    yield { event, atMs }
  }
}
