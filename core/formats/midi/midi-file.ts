import { parseMidi, type MidiData, type MidiEvent } from 'midi-file'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'

/** A Standard MIDI File of type 0 or 1, checked. Throws UnusableInput with the byte or track. */
export function openMidi(bytes: Uint8Array): MidiData {
  if (bytes.length > LIMITS.midiBytes) throw new UnusableInput('MIDI file', `it has ${bytes.length} bytes; at most ${LIMITS.midiBytes} are read`)
  if (!isMidi(bytes)) throw new UnusableInput('byte 0', 'a Standard MIDI File was expected, which begins with "MThd"')
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

export const isMidi = (bytes: Uint8Array): boolean => bytes.length >= 14 && String.fromCharCode(...bytes.subarray(0, 4)) === 'MThd'

/** Every event of every track with its tick from the beginning and its track's number, in time order. */
export function inTicks(midi: MidiData): { event: MidiEvent, tick: number, track: number }[] {
  return midi.tracks.flatMap((events, track) => {
    let tick = 0
    return events.map(event => ({ event, tick: tick += event.deltaTime, track }))
  }).sort((a, b) => a.tick - b.tick)
}
