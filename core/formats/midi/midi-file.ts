import { parseMidi, type MidiData, type MidiEvent } from 'midi-file'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'

/** A Standard MIDI File of type 0 or 1, checked. Throws UnusableInput with the byte or track. */
export function openMidi(bytes: Uint8Array): MidiData {
  if (bytes.length > LIMITS.midiBytes)
    throw new UnusableInput('MIDI file', `it has ${bytes.length} bytes; at most ${LIMITS.midiBytes} are read`)
  if (!isMidi(bytes)) throw new UnusableInput('byte 0', 'a Standard MIDI File was expected, which begins with "MThd"')
  checkTracks(bytes)
  let midi: MidiData
  try {
    midi = parseMidi(bytes)
  } catch (error) {
    throw new UnusableInput(
      'MIDI file',
      `it is damaged (${String(error instanceof Error ? error.message : error).slice(0, 120)})`,
    )
  }
  if (midi.header.format !== 0 && midi.header.format !== 1)
    throw new UnusableInput('byte 8', `a file of type 0 or 1 was expected and this is type ${midi.header.format}`)
  if (!midi.header.ticksPerBeat && !midi.header.framesPerSecond)
    throw new UnusableInput('byte 12', 'the time division is 0')
  const damaged = midi.tracks.findIndex(track =>
    track.some(
      event =>
        !Number.isFinite(event.deltaTime) ||
        ('noteNumber' in event && !(event.noteNumber >= 0 && event.noteNumber <= 127)),
    ),
  )
  if (damaged >= 0) throw new UnusableInput(`track ${damaged + 1}`, 'it is damaged (an event is cut off)')
  return midi
}

/** MIDI 1.0: how many data bytes follow a status, by its upper half from 8 to E. */
const DATA_BYTES = [2, 2, 2, 2, 1, 1, 2] as const

/**
 * Walks over the chunks and events, from each to the next by the lengths they give (Standard MIDI Files 1.0), without
 * reading what is in them: whoever reads them may trust the lengths. Throws UnusableInput with the byte.
 */
function checkTracks(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let events = 0
  for (let at = 8 + view.getUint32(4); at + 8 <= bytes.length;) {
    const isTrack = view.getUint32(at) === TRACK
    const [begin, end] = [at + 8, at + 8 + view.getUint32(at + 4)]
    if (end > bytes.length) throw new UnusableInput(`byte ${at}`, 'it is damaged (a track is cut off)')
    if (isTrack) events += eventsOf(bytes, begin, end)
    if (events > MAX_EVENTS) throw new UnusableInput('MIDI file', `more than ${MAX_EVENTS} events`)
    at = end
  }
}

/** "MTrk" */
const TRACK = 0x4d54726b
const MAX_EVENTS = 500_000

function eventsOf(bytes: Uint8Array, begin: number, end: number): number {
  let at = begin
  let status = 0
  let events = 0
  const damaged = (where: number) =>
    new UnusableInput(`byte ${where}`, 'it is damaged (an event is cut off or is none)')
  const lengthAt = (): number => {
    let value = 0
    for (let place = 0; place < 4 && at < end; place++) {
      const byte = bytes[at++]!
      value = value * 128 + (byte & 0x7f)
      if (byte < 0x80) return value
    }
    throw damaged(at)
  }
  for (; at < end; events++) {
    const from = at
    lengthAt()
    const byte = bytes[at]
    if (byte === undefined || at >= end) throw damaged(from)
    if (byte >= 0xf0) {
      if (byte !== 0xff && byte !== 0xf0 && byte !== 0xf7) throw damaged(from)
      at += byte === 0xff ? 2 : 1
      const length = lengthAt()
      at += length
    } else {
      if (byte >= 0x80) [status, at] = [byte, at + 1]
      if (status === 0) throw damaged(from)
      at += DATA_BYTES[(status >> 4) - 8]!
    }
    if (at > end) throw damaged(from)
  }
  return events
}

export const isMidi = (bytes: Uint8Array): boolean =>
  bytes.length >= 14 && String.fromCharCode(...bytes.subarray(0, 4)) === 'MThd'

/** Every event of every track with its tick from the beginning and its track's number, in time order. */
export function inTicks(midi: MidiData): { event: MidiEvent; tick: number; track: number }[] {
  return midi.tracks
    .flatMap((events, track) => {
      let tick = 0
      return events.map(event => ({ event, tick: (tick += event.deltaTime), track }))
    })
    .sort((a, b) => a.tick - b.tick)
}
