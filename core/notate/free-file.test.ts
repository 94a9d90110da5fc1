/** Files that were played without a click, written down here: a tune over a bass, its tempo and unsteadiness known. */
import { describe, expect, it } from 'vitest'
import { seededChance } from '../players/randomness'
import { findPulse } from './find-pulse'
import { followsItsBeats, onItsOwnBeats } from './free-file'
import type { Raw, RawNote } from './notate'

/** Sixteen beats in sixteenths: what the right hand strikes; a dot is a silence. */
const TUNE = ['x.x.', 'xxxx', 'x.x.', 'x...', 'xxx.', 'x.x.', 'x.xx', 'x...', 'x.x.', 'x.x.', 'xxxx', 'x...', 'x..x', 'x.x.', 'x.x.', 'x...']
const PLACES = [0, 1, 2].flatMap(time => TUNE.flatMap((beat, index) => [...beat].flatMap((sign, sixteenth) => sign === 'x' ? [16 * time + index + sixteenth / 4] : [])))

/** The tune with a bass on every beat; `clock`: from quarter notes to ms; unsteady by so many ms, a normal deviation. Times of the file: 120 quarter notes a minute. */
function played(clock: (quarter: number) => number, unsteadyMs: number): { raw: Raw, places: number[] } {
  const chance = seededChance(11)
  const normal = () => Math.sqrt(-2 * Math.log(1 - chance.uniform())) * Math.cos(2 * Math.PI * chance.uniform())
  const all = [...PLACES.map((quarter, index) => ({ quarter, pitch: 67 + index * 7 % 12 })), ...Array.from({ length: 48 }, (_, quarter) => ({ quarter, pitch: 43 + quarter * 5 % 10 }))]
  const notes = all.map(({ quarter, pitch }): RawNote & { quarter: number } => {
    const onset = (clock(quarter) + unsteadyMs * normal()) / 500
    return { onset, end: onset + 0.4, pitch, velocity: 64, quarter }
  }).sort((a, b) => a.onset - b.onset)
  return { places: notes.map(note => note.quarter), raw: { title: '', notes, roles: [], pedals: [], quarterSeconds: 0.5, toleranceQuarters: 1 / 480, tempos: [{ at: 0, quarterBpm: 120 }] } }
}
/** The share of the notes that lie where they were meant, but for where the music begins and for twice or half the tempo. */
function inPlace({ notes }: Raw, places: readonly number[]): number {
  const shares = [0.5, 1, 2].flatMap((scale) => {
    const offs = notes.map((note, index) => Math.round(100 * (note.onset - scale * places[index]!)) / 100)
    return [...new Set(offs)].map(off => offs.filter(one => Math.abs(one - off) < 0.06).length / offs.length)
  })
  return Math.max(...shares)
}
const steady = (bpm: number) => (quarter: number) => 350 + quarter * 60_000 / bpm
/** A tempo that breathes by a tenth over eight beats. */
const breathing = (bpm: number) => (quarter: number) => 350 + (quarter - 0.8 * Math.cos(quarter * Math.PI / 4) / Math.PI * 0.5) * 60_000 / bpm

describe('free playing', () => {
  it.each([[66, 8], [83, 12], [97, 12], [111, 15]])('at %i quarter notes a minute, unsteady by %i ms, is no playing to the file’s beats, and its own are found', (bpm, unsteadyMs) => {
    for (const clock of [steady(bpm), breathing(bpm)]) {
      const { raw, places } = played(clock, unsteadyMs)
      expect(followsItsBeats(raw)).toBe(false)
      const found = onItsOwnBeats(raw)
      expect(inPlace(found, places)).toBeGreaterThanOrEqual(0.95)
      const ratio = found.tempos[0]!.quarterBpm / bpm
      expect([0.5, 1, 2].some(times => Math.abs(ratio / times - 1) < 0.04)).toBe(true)
    }
  })

  it('keeps the order of its notes, and every note some length', () => {
    const { raw } = played(breathing(80), 15)
    const { notes } = onItsOwnBeats(raw)
    expect(notes.every((note, index) => note.end > note.onset && (index === 0 || note.onset >= notes[index - 1]!.onset))).toBe(true)
  })
})

describe('playing to the file’s beats', () => {
  it.each([0, 20, 30])('within %i ms is left on them', unsteadyMs => expect(followsItsBeats(played(quarter => quarter * 500, unsteadyMs).raw)).toBe(true))

  it('and a handful of notes, of which nothing can be said, are', () => {
    const { raw } = played(steady(83), 10)
    expect(followsItsBeats({ ...raw, notes: raw.notes.slice(0, 20) })).toBe(true)
  })
})

describe('the pulse', () => {
  it('of nothing is nothing, and of one moment one place', () => {
    expect(findPulse([])).toEqual([])
    expect(findPulse([{ atMs: 500, accent: 1 }])).toEqual([0])
  })

  it('counts on over a long rest', () => {
    const moments = [0, 1, 2, 3, 4, 5, 6, 7, 8, 24, 25, 26, 27, 28].map(pulse => ({ atMs: 1000 + 150 * pulse, accent: pulse % 4 === 0 ? 1 : 0 }))
    expect(findPulse(moments)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 24, 25, 26, 27, 28])
  })
})
