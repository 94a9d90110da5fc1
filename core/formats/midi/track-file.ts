import { writeMidi, type MidiEvent } from 'midi-file'

/** An event at its absolute tick; `order` sorts events of one tick. */
export interface PlacedEvent { tick: number, order: number, event: MidiEvent }

/** Standard MIDI File bytes from events at absolute ticks: type 0 for one track, type 1 for several. */
export function writeTrackFile(tracks: PlacedEvent[][], ticksPerBeat: number): Uint8Array {
  return Uint8Array.from(writeMidi({
    header: { format: tracks.length === 1 ? 0 : 1, numTracks: tracks.length, ticksPerBeat },
    tracks: tracks.map((placed) => {
      let last = 0
      const events = [...placed].sort((a, b) => a.tick - b.tick || a.order - b.order).map(({ tick, event }) => {
        const deltaTime = tick - last
        last = tick
        return { ...event, deltaTime }
      })
      return [...events, { deltaTime: 0, type: 'endOfTrack' as const, meta: true as const }]
    }),
  }))
}
