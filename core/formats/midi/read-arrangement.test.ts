/**
 * Who plays what in a MIDI file, and what a file says beside its notes (Standard MIDI Files 1.0; General MIDI 1:
 * channel 10 is percussion, programs 1 to 8 are pianos).
 */
import { describe, expect, it } from 'vitest'
import type { MidiEvent } from 'midi-file'
import { toDecimal } from '../../music/quarters'
import { guessText } from '../../words/remarks'
import { readMidiArrangement, type MidiChoices } from './read-arrangement'
import { writeTrackFile, type PlacedEvent } from './track-file'
import { writeArrangementMidi } from './write-arrangement'

const TICKS = 480
interface Track {
  name?: string
  channel?: number
  program?: number
  notes?: [pitch: number, onset: number, length: number][]
  more?: [at: number, event: MidiEvent][]
}

function file(...tracks: Track[]): Uint8Array {
  return writeTrackFile(
    tracks.map(({ name, channel = 0, program, notes = [], more = [] }) => [
      ...(name ? [placed(0, { deltaTime: 0, type: 'trackName', meta: true, text: name })] : []),
      ...(program === undefined
        ? []
        : [placed(0, { deltaTime: 0, type: 'programChange', channel, programNumber: program })]),
      ...more.map(([at, event]) => placed(at, event)),
      ...notes.flatMap(([noteNumber, at, length]) => [
        placed(at, { deltaTime: 0, type: 'noteOn', channel, noteNumber, velocity: 80 }, 2),
        placed(at + length, { deltaTime: 0, type: 'noteOff', channel, noteNumber, velocity: 0 }, 1),
      ]),
    ]),
    TICKS,
  )
}
const placed = (at: number, event: MidiEvent, order = 0): PlacedEvent => ({
  tick: Math.round(at * TICKS),
  order,
  event,
})
const HIGH: Track['notes'] = [
  [72, 0, 1],
  [74, 1, 1],
  [76, 2, 2],
]
const LOW: Track['notes'] = [
  [48, 0, 2],
  [43, 2, 2],
]
const read = (bytes: Uint8Array, choices?: MidiChoices) => readMidiArrangement(bytes, 'A file', choices)
const given = (bytes: Uint8Array, choices?: MidiChoices) =>
  read(bytes, choices).voices.map(voice => `${voice.name}: ${voice.plays}`)
const hands = (bytes: Uint8Array, choices?: MidiChoices) =>
  read(bytes, choices)
    .arrangement.notes.map(note => `${note.hand[0]}${note.pitch}`)
    .sort()

describe('who plays what', () => {
  it('tracks named for the hands are the hands, in any order and in several languages', () => {
    expect(given(file({ name: 'Left Hand', notes: LOW }, { name: 'Right Hand', notes: HIGH }))).toEqual([
      'Left Hand: left',
      'Right Hand: right',
    ])
    expect(given(file({ name: 'Klavier rechts', notes: HIGH }, { name: 'Klavier links', notes: LOW }))).toEqual([
      'Klavier rechts: right',
      'Klavier links: left',
    ])
    expect(given(file({ name: 'main gauche', notes: LOW }, { name: 'Piano', notes: HIGH }))).toEqual([
      'main gauche: left',
      'Piano: right',
    ])
  })
  it('of two tracks without such names the higher is the right hand, and that is a guess', () => {
    const bytes = file({ name: 'A', notes: LOW }, { name: 'B', notes: HIGH })
    expect(given(bytes)).toEqual(['A: left', 'B: right'])
    expect(read(bytes).guesses.map(guess => guess.about)).toContain('hands')
  })
  it('one track is shared out between the hands', () => {
    expect(hands(file({ name: 'Piano', notes: [...HIGH, ...LOW] }))).toEqual(['l43', 'l48', 'r72', 'r74', 'r76'])
  })
  it('two channels of one track are two voices', () => {
    const both = file({
      notes: HIGH,
      channel: 0,
      more: LOW.flatMap(([noteNumber, at, length]): [number, MidiEvent][] => [
        [at, { deltaTime: 0, type: 'noteOn', channel: 1, noteNumber, velocity: 70 }],
        [at + length, { deltaTime: 0, type: 'noteOff', channel: 1, noteNumber, velocity: 0 }],
      ]),
    })
    expect(given(both)).toEqual(['Channel 1: right', 'Channel 2: left'])
  })
  it('beside a piano, other instruments are somebody else', () => {
    const band = file(
      { name: 'Flute', program: 73, notes: [[84, 0, 4]], channel: 2 },
      { name: 'Piano', program: 0, notes: [...HIGH, ...LOW] },
    )
    expect(given(band)).toEqual(['Flute: role', 'Piano: both'])
    expect(read(band).arrangement.others.map(role => role.name)).toEqual(['Flute'])
  })
  it('drums are kept for somebody else, whatever is said, and have no say in the key', () => {
    const bytes = file(
      { notes: HIGH },
      {
        name: 'Drums',
        channel: 9,
        notes: [
          [36, 0, 1],
          [38, 1, 1],
        ],
      },
    )
    for (const { arrangement } of [read(bytes), read(bytes, { voices: { 1: 'right', 2: 'left' } })]) {
      expect(arrangement.notes).toHaveLength(3)
      expect(
        arrangement.others.map(({ name, percussion, notes }) => [name, percussion, notes.map(note => note.pitch)]),
      ).toEqual([['Drums', true, [36, 38]]])
    }
    expect(() => read(file({ name: 'Drums', channel: 9, notes: [[36, 0, 1]] }))).toThrow('no drum')
  })
  it("the player's word counts more than all of it", () => {
    expect(
      hands(file({ name: 'Left Hand', notes: LOW }, { name: 'Right Hand', notes: HIGH }), {
        voices: { 1: 'right', 2: 'left' },
      }),
    ).toEqual(['l72', 'l74', 'l76', 'r43', 'r48'])
  })
})

describe('what stands beside the notes', () => {
  const meta = (event: object) => ({ deltaTime: 0, meta: true, ...event }) as MidiEvent
  it("meter, key and tempo are the file's own", () => {
    const { arrangement, guesses } = read(
      file(
        {
          name: 'Right Hand',
          notes: [
            [74, 0, 3],
            [78, 3, 3],
          ],
          more: [
            [0, meta({ type: 'timeSignature', numerator: 3, denominator: 4, metronome: 24, thirtyseconds: 8 })],
            [0, meta({ type: 'keySignature', key: 2, scale: 0 })],
            [0, meta({ type: 'setTempo', microsecondsPerBeat: 750_000 })],
            [3, meta({ type: 'setTempo', microsecondsPerBeat: 500_000 })],
          ],
        },
        { name: 'Left Hand', notes: LOW },
      ),
    )
    expect(arrangement.bars.map(bar => [bar.meter.beats, bar.fifths])).toEqual([
      [3, 2],
      [3, 2],
    ])
    expect(arrangement.tempos.map(tempo => [toDecimal(tempo.onset), tempo.quarterBpm])).toEqual([
      [0, 80],
      [3, 120],
    ])
    expect(guesses).toEqual([])
  })
  const key = (fifths: number) => meta({ type: 'keySignature', key: fifths, scale: 0 })
  const scale = (from: number, at: number) =>
    [0, 2, 4, 5, 7, 9, 11, 12].map((step, index): [number, number, number] => [from + step, at + index, 1])
  it('its changes of key come where it has them; what a second track says at the same moment is no change', () => {
    const { arrangement, guesses } = read(
      file(
        {
          name: 'Right Hand',
          notes: [...scale(67, 0), ...scale(63, 8), ...scale(67, 16)],
          more: [
            [0, meta({ type: 'timeSignature', numerator: 4, denominator: 4, metronome: 24, thirtyseconds: 8 })],
            [0, key(1)],
            [8, key(-3)],
            [16, key(1)],
          ],
        },
        {
          name: 'Left Hand',
          notes: LOW,
          more: [
            [0, key(5)],
            [8, key(-3)],
          ],
        },
      ),
    )
    expect(arrangement.bars.map(bar => bar.fifths)).toEqual([1, 1, -3, -3, 1, 1])
    expect(guesses).toEqual([])
    // Written as MIDI again they are the same.
    expect(read(writeArrangementMidi(arrangement)).arrangement.bars.map(bar => bar.fifths)).toEqual([
      1, 1, -3, -3, 1, 1,
    ])
  })
  it('"no sharps or flats" alone, in a file whose notes plainly lie elsewhere, is what a program wrote where no key was set: the key is found, and that is said', () => {
    const unset = (from: number, ...keys: number[]) =>
      read(
        file({
          name: 'Right Hand',
          notes: [...scale(from, 0), ...scale(from, 8), ...scale(from, 16)],
          more: keys.map((one, index): [number, MidiEvent] => [8 * index, key(one)]),
        }),
      )
    const { arrangement, guesses } = unset(63, 0)
    expect(arrangement.bars[0]!.fifths).toBe(-3)
    expect(guesses.filter(guess => guess.about === 'key').map(guessText)).toEqual([
      'E♭ major was found from the notes; the file says no sharps or flats, as it does where no key was set, and the notes do not lie there',
    ])
    // A neighbouring key is no such case, nor is a file that knows other keys; nor are few notes.
    expect(unset(67, 0).arrangement.bars[0]!.fifths).toBe(0)
    expect(
      unset(63, 0, -3)
        .arrangement.bars.map(bar => bar.fifths)
        .slice(0, 3),
    ).toEqual([0, 0, -3])
    expect(read(file({ notes: scale(63, 0), more: [[0, key(0)]] })).arrangement.bars[0]!.fifths).toBe(0)
    // The player decides it otherwise.
    expect(read(file({ notes: scale(63, 0), more: [[0, key(0)]] }), { fifths: -4 }).arrangement.bars[0]!.fifths).toBe(
      -4,
    )
  })
  it('the pedal is kept, half-pressed values counted as up or down', () => {
    const pedal = (value: number): MidiEvent => ({
      deltaTime: 0,
      type: 'controller',
      channel: 0,
      controllerType: 64,
      value,
    })
    const { arrangement } = read(
      file({
        notes: HIGH,
        more: [
          [0, pedal(100)],
          [1, pedal(80)],
          [2, pedal(20)],
          [2.125, pedal(127)],
          [4, pedal(0)],
        ],
      }),
    )
    expect(arrangement.pedals.map(mark => [toDecimal(mark.onset), mark.kind])).toEqual([
      [0, 'down'],
      [2.125, 'change'],
      [4, 'up'],
    ])
  })
  it('a file in frames instead of beats is read at two quarters a second', () => {
    // 25 frames of 40 ticks: a quarter note of half a second has 500 ticks.
    const bytes = file({
      notes: [
        [60, 0, 500 / TICKS],
        [62, 500 / TICKS, 500 / TICKS],
        [64, 1000 / TICKS, 1000 / TICKS],
      ],
    })
    bytes[12] = 0xe7
    bytes[13] = 40
    expect(read(bytes).arrangement.notes.map(note => toDecimal(note.onset))).toEqual([0, 1, 2])
  })
  it('a note that never ends lasts a quarter, one struck again ends there', () => {
    const bytes = file({
      more: [
        [0, { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: 60, velocity: 80 }],
        [2, { deltaTime: 0, type: 'noteOn', channel: 0, noteNumber: 60, velocity: 80 }],
      ],
    })
    expect(read(bytes).arrangement.notes.map(note => [toDecimal(note.onset), toDecimal(note.duration)])).toEqual([
      [0, 2],
      [2, 1],
    ])
  })
  it('without a note there is no song', () =>
    expect(() => read(file({ name: 'Nothing' }))).toThrow('at least one note'))
  it('taps that would make bars without end are refused in words', () => {
    const bytes = file({ notes: Array.from({ length: 40 }, (_, index) => [60 + (index % 12), index * 1.27, 0.5]) })
    expect(() => read(bytes, { beats: 'taps', tapsMs: [300, 301, 302] })).toThrow('more than')
    expect(read(bytes, { beats: 'taps', tapsMs: [0, 635, 1270] }).played?.beats).toBe('taps')
  })
  it('a rest of hours in a recording is a song of some length', () => {
    const notes = (rest: number) =>
      Array.from({ length: 30 }, (_, index): [number, number, number] => [
        60 + (index % 12),
        index * 1.27 + (index % 3) / 20 + (index > 20 ? rest : 0),
        0.5,
      ])
    expect(read(file({ notes: notes(400) }), { beats: 'heard' }).arrangement.bars.length).toBeLessThan(1_000)
    expect(read(file({ notes: notes(9_900) }), { beats: 'heard' }).arrangement.bars.length).toBeLessThan(10_000)
  })
})
