import { parseMidi, writeMidi, type MidiEvent } from 'midi-file'
import { describe, expect, it } from 'vitest'
import { writeTrackFile, type PlacedEvent } from './track-file'

const TICKS = 37
const event = (index: number): MidiEvent =>
  index % 50 === 0
    ? { deltaTime: 0, type: 'marker', meta: true, text: 'x'.repeat(200) }
    : { deltaTime: 0, type: index % 2 ? 'noteOff' : 'noteOn', channel: 1, noteNumber: 60, velocity: index % 2 ? 0 : 64 }
const placed = (count: number): PlacedEvent[] =>
  Array.from({ length: count }, (_, index) => ({ tick: TICKS * index, order: 0, event: event(index) }))
const inOneGo = (tracks: PlacedEvent[][]): number[] =>
  writeMidi({
    header: { format: tracks.length === 1 ? 0 : 1, numTracks: tracks.length, ticksPerBeat: 480 },
    tracks: tracks.map(track => [
      ...track.map(({ event: one }, index): MidiEvent => ({ ...one, deltaTime: index === 0 ? 0 : TICKS })),
      { deltaTime: 0, type: 'endOfTrack', meta: true },
    ]),
  })

describe('a track file', () => {
  it.each([[[0]], [[1]], [[199]], [[200]], [[1001]], [[10, 500, 0]]])(
    'of tracks of %j events has the bytes that the library writes in one go',
    counts => {
      const tracks = counts.map(placed)
      expect([...writeTrackFile(tracks, 480)]).toEqual(inOneGo(tracks))
    },
  )

  it('puts events in time order', () => {
    const [track] = parseMidi(writeTrackFile([placed(3).reverse()], 480)).tracks
    expect(track!.map(one => one.deltaTime)).toEqual([0, TICKS, TICKS, 0])
  })
})
