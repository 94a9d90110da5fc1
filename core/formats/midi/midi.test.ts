/** Against the published format, and against two other readers: midicsv (Debian) and @tonejs/midi (npm). */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Midi } from '@tonejs/midi'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../../tests/material/demo'
import { expectedNotes, wholePassage } from '../../music/passage'
import type { Take } from '../../ear/take'
import { UnusableInput } from '../unusable'
import { readTake } from './read-take'
import { writeTrackFile } from './track-file'
import { writeArrangementMidi } from './write-arrangement'
import { writeTake } from './write-take'

function midicsv(bytes: Uint8Array): string[][] {
  const folder = mkdtempSync(join(tmpdir(), 'half-step-'))
  try {
    writeFileSync(join(folder, 'a.mid'), bytes)
    execFileSync('midicsv', [join(folder, 'a.mid'), join(folder, 'a.csv')])
    return readFileSync(join(folder, 'a.csv'), 'latin1')
      .trim()
      .split('\n')
      .map(line => line.split(', '))
  } finally {
    rmSync(folder, { recursive: true })
  }
}

const header = (format: number, tracks: number, division: number) => [
  0x4d,
  0x54,
  0x68,
  0x64,
  0,
  0,
  0,
  6,
  0,
  format,
  0,
  tracks,
  division >> 8,
  division & 255,
]
const track = (events: number[]) => [0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, events.length + 4, ...events, 0, 0xff, 0x2f, 0]
const file = (events: number[], division = 500) => Uint8Array.from([...header(0, 1, division), ...track(events)])

describe('Standard MIDI Files', () => {
  it.each([
    [0x40, [0x40]],
    [0x7f, [0x7f]],
    [0x80, [0x81, 0x00]],
    [0x2000, [0xc0, 0x00]],
    [0x3fff, [0xff, 0x7f]],
    [0x4000, [0x81, 0x80, 0x00]],
    [0x1fffff, [0xff, 0xff, 0x7f]],
    [0x200000, [0x81, 0x80, 0x80, 0x00]],
    [0x0fffffff, [0xff, 0xff, 0xff, 0x7f]],
  ])("write and read the variable length %i as the format's table has it (Standard MIDI Files 1.0)", (ticks, bytes) => {
    const written = writeTrackFile(
      [[{ tick: ticks, order: 0, event: { deltaTime: 0, channel: 0, type: 'noteOn', noteNumber: 60, velocity: 64 } }]],
      480,
    )
    expect([...written.slice(22, 22 + bytes.length + 3)]).toEqual([...bytes, 0x90, 60, 64])
    // At 500 ticks a quarter and the default 120 bpm a tick is a millisecond.
    expect(readTake(file([...bytes, 0x90, 60, 64])).notes[0]!.onsetMs).toBe(ticks)
  })

  it('running status, velocity 0 as release, and active sensing between (MIDI 1.0)', () => {
    const { notes, pedals } = readTake(
      file([0, 0x90, 60, 80, 100, 62, 70, 50, 60, 0, 10, 0xb0, 64, 127, 40, 0x90, 62, 0, 0, 0xb0, 64, 0]),
    )
    expect(notes).toEqual([
      { onsetMs: 0, durationMs: 150, pitch: 60, velocity: 80 },
      { onsetMs: 100, durationMs: 100, pitch: 62, velocity: 70 },
    ])
    expect(pedals).toEqual([
      { atMs: 160, down: true },
      { atMs: 200, down: false },
    ])
  })

  it('a tempo change in the middle, and a key struck twice without a release', () => {
    const { notes } = readTake(
      file([0, 0x90, 60, 80, 0x83, 0x74, 0xff, 0x51, 3, 0x0f, 0x42, 0x40, 0x83, 0x74, 0x90, 60, 80], 500),
    )
    expect(notes.map(({ onsetMs, durationMs }) => [onsetMs, durationMs])).toEqual([
      [0, 1500],
      [1500, 1000],
    ])
  })

  it.each([
    ['nothing', new Uint8Array(), '"MThd"'],
    ['another file', new TextEncoder().encode('RIFF0000WAVEfmt 1234'), '"MThd"'],
    ['type 2', Uint8Array.from([...header(2, 1, 480), ...track([])]), 'type 2'],
    ['no division', Uint8Array.from([...header(0, 1, 0), ...track([])]), 'time division'],
    ['a cut-off track', file([0, 0x90, 60, 80, 100, 0x90, 60]).slice(0, 27), 'damaged'],
  ])('refuses %s with a reason', (_name, bytes, reason) => {
    expect(() => readTake(bytes)).toThrow(UnusableInput)
    expect(() => readTake(bytes)).toThrow(reason)
  })

  it('reads or refuses 10,000 damaged files, and never fails otherwise', () => {
    const base = writeArrangementMidi(demoScore(DEMO_FILES[0]!).arrangement)
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(600), fc.nat(255)), { minLength: 1, maxLength: 5 }),
        fc.nat(base.length),
        (changes, length) => {
          const bytes = base.slice(0, Math.max(600, length))
          for (const [at, value] of changes) bytes[at] = value
          try {
            readTake(bytes)
          } catch (error) {
            expect(error).toBeInstanceOf(UnusableInput)
          }
        },
      ),
      { numRuns: 10_000, seed: 3 },
    )
  })
})

describe('a take', () => {
  const anyTake = fc.array(
    fc.record({
      onsetMs: fc.double({ min: -400, max: 60_000, noNaN: true }),
      durationMs: fc.double({ min: 5, max: 900, noNaN: true }),
      pitch: fc.integer({ min: 21, max: 108 }),
      velocity: fc.integer({ min: 1, max: 127 }),
    }),
    { maxLength: 60 },
  )

  it('comes back from its file with every note within a tenth of a millisecond, also those before the first beat', () => {
    fc.assert(
      fc.property(anyTake, fc.integer({ min: 50, max: 240 }), (notes, bpm) => {
        // One stroke a key: overlapping strokes of one key cannot be told apart in MIDI.
        const take: Take = {
          notes: [...new Map(notes.map(note => [note.pitch, note])).values()].sort((a, b) => a.onsetMs - b.onsetMs),
          pedals: [],
        }
        const again = readTake(writeTake(take, bpm)).notes
        expect(again).toHaveLength(take.notes.length)
        const byPitch = new Map(again.map(note => [note.pitch, note]))
        for (const note of take.notes) {
          const back = byPitch.get(note.pitch)!
          expect(Math.abs(back.onsetMs - note.onsetMs)).toBeLessThan(0.1)
          expect(Math.abs(back.durationMs - note.durationMs)).toBeLessThan(0.2)
          expect(back.velocity).toBe(note.velocity)
        }
      }),
      { seed: 5 },
    )
  })

  it('is opened by other programs with the bars where they were: at 75 bpm, beat 5 is at 3.2 s', () => {
    const midi = new Midi(
      writeTake(
        { notes: [{ onsetMs: 3200, durationMs: 400, pitch: 67, velocity: 90 }], pedals: [{ atMs: 100, down: true }] },
        75,
      ),
    )
    expect(midi.header.tempos[0]!.bpm).toBeCloseTo(75, 6)
    expect(midi.tracks[0]!.notes[0]).toMatchObject({ midi: 67 })
    expect(midi.tracks[0]!.notes[0]!.time).toBeCloseTo(3.2, 4)
    expect(midi.header.ticksToMeasures(midi.tracks[0]!.notes[0]!.ticks) * 4).toBeCloseTo(4, 4)
  })
})

describe('an arrangement', () => {
  it.each(DEMO_FILES)('%s becomes a MIDI file in which midicsv finds every note, in its hand, at its time', name => {
    const { arrangement } = demoScore(name)
    const lines = midicsv(writeArrangementMidi(arrangement))
    const division = Number(lines[0]![5])
    const tempo = Number(lines.find(line => line[2] === 'Tempo')![3])
    const strokes = lines
      .filter(line => line[2] === 'Note_on_c')
      .map(line => ({
        hand: line[0] === '2' ? 'right' : 'left',
        pitch: Number(line[4]),
        onsetMs: ((Number(line[1]) / division) * tempo) / 1000,
      }))
      .sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch)
    const wanted = expectedNotes(arrangement, wholePassage(arrangement, 'both')).filter(note => !note.grace)
    const found = strokes.filter(stroke =>
      wanted.some(
        note =>
          note.pitch === stroke.pitch && note.hand === stroke.hand && Math.abs(note.onsetMs - stroke.onsetMs) < 0.1,
      ),
    )
    expect(found).toHaveLength(wanted.length)
    expect(strokes.length - found.length).toBe(arrangement.notes.filter(note => note.grace).length)
    expect(lines.filter(line => line[2] === 'Note_off_c')).toHaveLength(strokes.length)
  })
})
