import { writeMidi, type MidiEvent } from 'midi-file'

/** An event at its absolute tick; `order` sorts events of one tick. */
export interface PlacedEvent {
  tick: number
  order: number
  event: MidiEvent
}

/** Bytes of a file's header, and of what stands before the events of a track; of the end of a track. */
const HEADER_BYTES = 14
const TRACK_HEADER_BYTES = 8
const TRACK_END_BYTES = 4
/** The library's time grows with the square of what it writes at once. */
const AT_ONCE = 200

/** Standard MIDI File bytes from events at absolute ticks: type 0 for one track, type 1 for several. */
export function writeTrackFile(tracks: PlacedEvent[][], ticksPerBeat: number): Uint8Array {
  const header = { format: tracks.length === 1 ? 0 : 1, numTracks: tracks.length, ticksPerBeat } as const
  const end: MidiEvent = { deltaTime: 0, type: 'endOfTrack', meta: true }
  const written = (events: MidiEvent[]): number[] => writeMidi({ header, tracks: [[...events, end]] })
  const bytes: number[][] = [written([]).slice(0, HEADER_BYTES)]
  // The header names all tracks.
  bytes[0]!.splice(HEADER_BYTES - 4, 2, tracks.length >> 8, tracks.length & 0xff)
  for (const placed of tracks) {
    const events = inSteps(placed)
    const pieces: number[][] = []
    for (let from = 0; from < events.length; from += AT_ONCE)
      pieces.push(
        written(events.slice(from, from + AT_ONCE)).slice(HEADER_BYTES + TRACK_HEADER_BYTES, -TRACK_END_BYTES),
      )
    const length = pieces.reduce((sum, piece) => sum + piece.length, TRACK_END_BYTES)
    const track = written([]).slice(HEADER_BYTES)
    track.splice(4, 4, length >>> 24, (length >> 16) & 0xff, (length >> 8) & 0xff, length & 0xff)
    bytes.push(track.slice(0, TRACK_HEADER_BYTES), ...pieces, track.slice(TRACK_HEADER_BYTES))
  }
  return Uint8Array.from(bytes.flat())
}

/** In time order, each with how long after the one before it comes. */
function inSteps(placed: readonly PlacedEvent[]): MidiEvent[] {
  let last = 0
  return [...placed]
    .sort((a, b) => a.tick - b.tick || a.order - b.order)
    .map(({ tick, event }) => {
      const deltaTime = tick - last
      last = tick
      return { ...event, deltaTime }
    })
}
