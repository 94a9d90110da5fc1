/**
 * Standard MIDI Files read as songs: round trips seen by midicsv (Debian), and playing whose notes are known written
 * down again.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readMidiArrangement } from '#core/formats/midi/read-arrangement'
import { writeTrackFile, type PlacedEvent } from '#core/formats/midi/track-file'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { UnusableInput } from '#core/formats/unusable'
import type { Arrangement } from '#core/music/arrangement'
import { expectedNotes, wholePassage } from '#core/music/passage'
import { add, compare, toDecimal } from '#core/music/quarters'
import { findPulse } from '#core/notate/find-pulse'
import { keyOf } from '#core/music/key'
import { notate, type RawNote } from '#core/notate/notate'
import { CHARACTERS, type PlayerHabits } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { DEMO_FILES, demoScore } from '../material/demo'
import { anyArrangement, essence } from '../material/random-arrangement'

/** Notes as midicsv lists them: track, tick, pitch, length in ticks, sorted. */
function heard(bytes: Uint8Array): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'half-step-'))
  try {
    writeFileSync(join(folder, 'a.mid'), bytes)
    const lines = execFileSync('midicsv', [join(folder, 'a.mid')], { encoding: 'latin1' })
      .trim()
      .split('\n')
      .map(line => line.split(', '))
    const open = new Map<string, number>()
    const notes: string[] = []
    for (const [track, tick, kind, , pitch] of lines) {
      if (kind === 'Note_on_c') open.set(`${track}:${pitch}`, Number(tick))
      if (kind === 'Note_off_c')
        notes.push(
          `${track} ${open.get(`${track}:${pitch}`)} ${pitch} ${Number(tick) - open.get(`${track}:${pitch}`)!}`,
        )
    }
    return notes.sort()
  } finally {
    rmSync(folder, { recursive: true })
  }
}

describe('MIDI to arrangement to MIDI', () => {
  it.each(DEMO_FILES)('%s: midicsv finds every note where it was', file => {
    const { arrangement } = demoScore(file)
    const first = writeArrangementMidi(withoutGraces(arrangement))
    const read = readMidiArrangement(first, file, { swing: false })
    expect(heard(writeArrangementMidi(read.arrangement))).toEqual(heard(first))
    expect(read.arrangement.pedals.length).toBe(
      arrangement.order.flatMap(index => arrangement.pedals.filter(one => inBar(arrangement, one.onset, index))).length,
    )
  })

  it('any arrangement keeps every note, its hand and its length, in its meter and key', () => {
    fc.assert(
      fc.property(anyArrangement, arrangement => {
        fc.pre(arrangement.notes.length > 0)
        const { arrangement: again } = readMidiArrangement(writeArrangementMidi(arrangement), 'Anything', {
          swing: false,
        })
        const shift = toDecimal(arrangement.notes[0]!.onset) - toDecimal(again.notes[0]!.onset)
        const moved = essence(arrangement.notes).map(one => ({
          hand: one.hand,
          pitch: one.pitch,
          duration: one.duration,
          at: Math.round((one.at - shift) * 1e6),
        }))
        expect(
          essence(again.notes).map(one => ({
            hand: one.hand,
            pitch: one.pitch,
            duration: one.duration,
            at: Math.round(one.at * 1e6),
          })),
        ).toEqual(moved)
        expect(again.bars[0]!.meter.beats).toBe(arrangement.bars[0]!.meter.beats)
        // A signature that needs double accidentals is written as its enharmonic twin where that reads more plainly.
        expect([0, 12]).toContain(Math.abs(again.bars[0]!.fifths - arrangement.bars[0]!.fifths))
      }),
      { numRuns: 400, seed: 8 },
    )
  })

  it.each(DEMO_FILES)('%s on one track: the hands are told apart for nearly all notes', file => {
    const { arrangement } = demoScore(file)
    // One key that both hands share is one stroke on one track.
    const strokes = new Map(
      arrangement.notes.filter(note => !note.grace).map(note => [`${toDecimal(note.onset)}:${note.pitch}`, note]),
    )
    const whole = { ...arrangement, notes: [...strokes.values()] }
    const { arrangement: again } = readMidiArrangement(oneTrack(whole), file, { swing: false })
    const handOf = new Map(whole.notes.map(note => [`${toDecimal(note.onset).toFixed(4)}:${note.pitch}`, note.hand]))
    const shift = toDecimal(whole.notes[0]!.onset) - toDecimal(again.notes[0]!.onset)
    const right = again.notes.filter(
      note => handOf.get(`${(toDecimal(note.onset) + shift).toFixed(4)}:${note.pitch}`) === note.hand,
    )
    expect(again.notes.length).toBe(whole.notes.length)
    // A broken chord that climbs to where the other hand has its sixths is not always told from it.
    expect(right.length / whole.notes.length).toBeGreaterThanOrEqual(file === 'tide-clerk.musicxml' ? 0.94 : 0.97)
  })

  it('reads or refuses 10,000 damaged files, and never fails otherwise', () => {
    const base = writeArrangementMidi(demoScore(DEMO_FILES[0]!).arrangement)
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(900), fc.nat(255)), { minLength: 1, maxLength: 5 }),
        fc.nat(base.length),
        (changes, length) => {
          const bytes = base.slice(0, Math.max(900, length))
          for (const [at, value] of changes) bytes[at] = value
          try {
            readMidiArrangement(bytes, 'Damaged')
          } catch (error) {
            expect(error).toBeInstanceOf(UnusableInput)
          }
        },
      ),
      { numRuns: 10_000, seed: 3 },
    )
  })
})

describe('playing written down', () => {
  const played = (arrangement: Arrangement, bpm: number, habits: PlayerHabits, seed: number) =>
    simulatePlayer(expectedNotes(arrangement, wholePassage(arrangement, 'both'), bpm), habits, seed)
  const share = (arrangement: Arrangement, written: Arrangement) => {
    const places = new Set(written.notes.map(note => `${toDecimal(note.onset).toFixed(3)}:${note.pitch}`))
    const wanted = expectedNotes(arrangement, wholePassage(arrangement, 'both'), 60).filter(note => !note.grace)
    return wanted.filter(note => places.has(`${(note.eventMs / 1000).toFixed(3)}:${note.pitch}`)).length / wanted.length
  }
  const raw = (notes: RawNote[], bpm: number) => ({
    title: 'Played',
    notes,
    roles: [],
    pedals: [],
    quarterSeconds: 60 / bpm,
    toleranceQuarters: 0.001,
    tempos: [{ at: 0, quarterBpm: bpm }],
  })

  it.each(DEMO_FILES.filter(file => !file.startsWith('side')))(
    '%s, played to a click by a good player, is written where it was written',
    file => {
      const arrangement = withoutGraces(demoScore(file).arrangement)
      const { take } = played(arrangement, 72, CHARACTERS.good, 5)
      const notes = take.notes.map(note => ({
        pitch: note.pitch,
        velocity: note.velocity,
        onset: (note.onsetMs * 72) / 60_000,
        end: ((note.onsetMs + note.durationMs) * 72) / 60_000,
      }))
      const written = notate(raw(notes, 72), {
        pickupQuarters: toDecimal(arrangement.bars[0]!.length) % toDecimal(arrangement.bars[1]!.length),
      })
      expect(share(arrangement, written.arrangement)).toBeGreaterThan(0.97)
    },
  )

  it('finds swung eighths and writes them even', () => {
    const notes: RawNote[] = Array.from({ length: 32 }, (_, index) => {
      const onset = Math.floor(index / 2) + ((index % 2) * 2) / 3 + 0.01 * Math.sin(index * 7)
      return {
        pitch: 60 + ((index * 5) % 12),
        velocity: 70,
        onset,
        end: onset + (index % 2 ? 1 / 3 : 2 / 3) - 0.03,
        hand: 'right',
      }
    })
    const { arrangement, guesses } = notate(raw(notes, 120))
    expect(arrangement.swings![0]!.ratio).toBeCloseTo(2, 0)
    expect(arrangement.notes.map(note => toDecimal(note.onset))).toEqual(notes.map((_, index) => index / 2))
    expect(guesses.map(one => one.about)).toContain('swing')
  })

  it('keeps triplets beside eighths apart from swing', () => {
    const onsets = [0, 0.5, 1, 1 + 1 / 3, 1 + 2 / 3, 2, 2.5, 3, 3 + 1 / 3, 3 + 2 / 3].map(
      (at, index) => at + 0.012 * Math.cos(index * 5),
    )
    const notes: RawNote[] = onsets.map((onset, index) => ({
      pitch: 60 + index,
      velocity: 70,
      onset,
      end: (onsets[index + 1] ?? 4) - 0.02,
      hand: 'right',
    }))
    expect(notate(raw(notes, 90)).arrangement.notes.map(note => `${note.onset.n}/${note.onset.d}`)).toEqual([
      '0/1',
      '1/2',
      '1/1',
      '4/3',
      '5/3',
      '2/1',
      '5/2',
      '3/1',
      '10/3',
      '11/3',
    ])
  })

  it('finds the beat of free playing that hurries and lingers', () => {
    // A walking tempo between 84 and 100, in quarters and eighths.
    const beats = [0]
    for (let beat = 1; beat <= 48; beat++) beats.push(beats.at(-1)! + 60_000 / (92 + 8 * Math.sin(beat / 6)))
    const onsets = beats
      .slice(0, 48)
      .flatMap((at, beat) => (beat % 4 === 1 ? [at, (at + beats[beat + 1]!) / 2] : beat % 4 === 3 ? [] : [at]))
    const { places, pulses } = findPulse(onsets.map(atMs => ({ atMs, accent: 0.2 })))
    expect(places.map(place => ((place - places[0]!) * 2) / pulses)).toEqual(
      onsets.map(at => (beats.includes(at) ? 2 * beats.indexOf(at) : 2 * beats.findLastIndex(one => one < at) + 1)),
    )
  })

  it.each([0, 1, 2, 3, 4, 5, -1, -2, -3, -4, -5, 6])(
    'finds the key of a scale and its chords with %i sharps (common practice)',
    fifths => {
      const tonic = (((fifths * 7) % 12) + 12) % 12
      const scale = [0, 2, 4, 5, 7, 9, 11, 12, 4, 7, 0, 7, 4, 0].map((step, onset) => ({
        pitch: 60 + tonic + step,
        onset,
        length: 1,
      }))
      expect(keyOf(scale)).toMatchObject({ fifths, mode: 'major' })
    },
  )
})

const withoutGraces = (arrangement: Arrangement): Arrangement => ({
  ...arrangement,
  notes: arrangement.notes.filter(note => !note.grace),
})

function inBar(arrangement: Arrangement, at: { n: number; d: number }, index: number): boolean {
  const bar = arrangement.bars[index]!
  return compare(at, bar.start) >= 0 && compare(at, add(bar.start, bar.length)) < 0
}

function oneTrack(arrangement: Arrangement): Uint8Array {
  const events = arrangement.notes.flatMap((note): PlacedEvent[] => {
    const key = { deltaTime: 0, channel: 0, noteNumber: note.pitch }
    const on = Math.round(toDecimal(note.onset) * 480)
    return [
      { tick: on, order: 1, event: { ...key, type: 'noteOn', velocity: 70 } },
      {
        tick: on + Math.round(toDecimal(note.duration) * 480),
        order: 0,
        event: { ...key, type: 'noteOff', velocity: 0 },
      },
    ]
  })
  const { beats, beatType } = arrangement.bars[0]!.meter
  events.push({
    tick: 0,
    order: 0,
    event: {
      deltaTime: 0,
      type: 'timeSignature',
      meta: true,
      numerator: beats,
      denominator: beatType,
      metronome: 24,
      thirtyseconds: 8,
    },
  })
  return writeTrackFile([events], 480)
}

describe('the beat in free playing', () => {
  const melody = (steps: number[], beatMs: number, wobbleMs = 0) => {
    let at = 0
    return steps.map((step, index) => {
      const onset = at * beatMs + wobbleMs * Math.sin(index * 2.3)
      at += step
      return onset
    })
  }
  it.each([
    [60, 0],
    [72, 12],
    [90, 15],
    [110, 12],
    [126, 8],
  ])('is found at %i beats a minute, %i ms unsteady', (bpm, wobble) => {
    const steps = [1, 1, 0.5, 0.5, 1, 2, 1, 1, 1, 0.5, 0.5, 2, 1, 1, 0.5, 0.5, 1, 2, 1, 1, 1, 1, 2]
    const onsets = melody(steps, 60_000 / bpm, wobble)
    const { places, pulses } = findPulse(onsets.map(atMs => ({ atMs, accent: 0.2 })))
    // The same pulse, or its half or double: which of them is the beat is a matter of taste.
    const quarters = places.map(place => (place - places[0]!) / pulses)
    const beats = steps.map((_, index) => steps.slice(0, index).reduce((sum, step) => sum + step, 0))
    expect([0.5, 1, 2].map(times => beats.map(beat => beat * times))).toContainEqual(quarters)
  })
  it('goes forward with every onset, also of a single note', () => {
    for (const onsets of [[0], [500], [0, 400, 810]]) {
      const { places } = findPulse(onsets.map(atMs => ({ atMs, accent: 0 })))
      expect(
        places.every((place, index) => Number.isInteger(place) && (index === 0 || place > places[index - 1]!)),
      ).toBe(true)
    }
  })
})
