import { writeTrackFile } from '#core/formats/midi/track-file'

const TICKS = 480

/** A track of a MIDI file; times in quarter notes. Channel 9 is the drums'. */
export interface MadeTrack {
  name: string
  channel: number
  program?: number
  notes: readonly (readonly [pitch: number, onset: number, length: number])[]
}

/** A MIDI file of some tracks at 120 quarter notes a minute, with no meter and no key. */
export function midiTracks(tracks: readonly MadeTrack[]): Uint8Array {
  return writeTrackFile(
    tracks.map(({ name, channel, program, notes }) => [
      { tick: 0, order: 0, event: { deltaTime: 0, type: 'trackName', meta: true, text: name } },
      ...(program === undefined
        ? []
        : [
            {
              tick: 0,
              order: 0,
              event: { deltaTime: 0, type: 'programChange' as const, channel, programNumber: program },
            },
          ]),
      ...notes.flatMap(([noteNumber, onset, length]) => [
        {
          tick: Math.round(onset * TICKS),
          order: 2,
          event: { deltaTime: 0, type: 'noteOn' as const, channel, noteNumber, velocity: 80 },
        },
        {
          tick: Math.round((onset + length) * TICKS),
          order: 1,
          event: { deltaTime: 0, type: 'noteOff' as const, channel, noteNumber, velocity: 0 },
        },
      ]),
    ]),
    TICKS,
  )
}

/** A band of sixteen bars in 4/4: a tune, chords, a bass, a fill and drums. */
export function bandFile(): Uint8Array {
  const bars = Array.from({ length: 16 }, (_, bar) => bar)
  const roots = [48, 45, 41, 43]
  return midiTracks([
    {
      name: 'Lead vocal',
      channel: 0,
      program: 53,
      notes: bars.flatMap(bar =>
        [76, 74, 72, 74].map((pitch, beat) => [pitch - (bar % 3), 4 * bar + beat, 1] as const),
      ),
    },
    {
      name: 'Strings',
      channel: 1,
      program: 48,
      notes: bars.flatMap(bar => [4, 7, 12].map(step => [roots[bar % 4]! + step, 4 * bar, 4] as const)),
    },
    {
      name: 'Bass',
      channel: 2,
      program: 33,
      notes: bars.flatMap(bar => [0, 2].map(beat => [roots[bar % 4]!, 4 * bar + beat, 2] as const)),
    },
    {
      name: 'Fill',
      channel: 3,
      program: 30,
      notes: [84, 83, 81, 79].map((pitch, index) => [pitch, 15 + index / 4, 0.25] as const),
    },
    {
      name: 'Kit',
      channel: 9,
      notes: bars.flatMap(bar => [36, 38, 36, 38].map((pitch, beat) => [pitch, 4 * bar + beat, 0.25] as const)),
    },
  ])
}

/** When each beat of `recordingFile` is played, ms from its beginning: about 98 a minute, breathing. */
export const beatMs = (beat: number): number => 400 + beat * 611 + 60 * Math.sin((beat * Math.PI) / 4)

/** A waltz of twelve bars played freely: bass, two chords, and a tune in quarters and eighths. */
export function recordingFile(): Uint8Array {
  const at = (beat: number) => {
    const whole = Math.floor(beat)
    const ms = beatMs(whole) + (beat - whole) * (beatMs(whole + 1) - beatMs(whole))
    // Some ms early and late, the same each time.
    return (ms + 9 * Math.sin(7 * beat)) / 500
  }
  const notes = Array.from(
    { length: 12 },
    (_, bar) =>
      [
        [[48, 43, 41, 43][bar % 4]!, 3 * bar, 1],
        ...[1, 2].flatMap(beat => [
          [60, 3 * bar + beat, 1],
          [64, 3 * bar + beat, 1],
        ]),
        [76 - (bar % 4), 3 * bar, 1],
        [79 - (bar % 3), 3 * bar + 1, 0.5],
        [77 - (bar % 3), 3 * bar + 1.5, 0.5],
        [74, 3 * bar + 2, 1],
      ] as [number, number, number][],
  ).flat()
  return midiTracks([
    {
      name: 'Piano',
      channel: 0,
      notes: notes.map(([pitch, beat, length]) => [pitch, at(beat), at(beat + 0.93 * length) - at(beat)] as const),
    },
  ])
}
