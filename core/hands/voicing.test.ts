/**
 * Chords for one hand: inversions that lead on with little movement, nothing muddy, the fifth left out before the root
 * (common practice).
 */
import { describe, expect, it } from 'vitest'
import { Note, Scale } from 'tonal'
import { spellSymbol } from '../music/chord-symbol'
import { leadVoices, movement } from './voice-leading'
import { RIGHT_ROOM, voiceChords } from './voicing'

const voiced = (...symbols: string[]) =>
  voiceChords(symbols.map(symbol => spellSymbol(symbol)).map(({ notes }) => ({ notes })))
const total = (voicings: number[][]) =>
  voicings.slice(1).reduce((sum, chord, index) => sum + movement(leadVoices(voicings[index]!, chord)), 0)

describe("the right hand's chords", () => {
  it("have the chord's notes, close together, within reach and register", () => {
    for (const symbol of ['C', 'Am', 'F#m7', 'Bb7', 'Ebmaj7', 'Gsus4', 'Bdim7']) {
      const [chord] = voiced(symbol) as [number[]]
      expect(chord.map(pitch => pitch % 12).sort()).toEqual(
        spellSymbol(symbol)
          .notes.map(name => Note.chroma(name)!)
          .sort(),
      )
      expect(chord.at(-1)! - chord[0]!).toBeLessThan(12)
      expect(chord[0]).toBeGreaterThanOrEqual(RIGHT_ROOM.lowest)
      expect(chord.at(-1)).toBeLessThanOrEqual(RIGHT_ROOM.highest)
    }
  })
  it('leave out the fifth, then the root, of chords with more than four notes', () => {
    const names = (symbol: string) =>
      voiced(symbol)[0]!
        .map(pitch => Note.pitchClass(Note.fromMidi(pitch)))
        .sort()
    expect(names('C9')).toEqual(['Bb', 'C', 'D', 'E'])
    expect(names('C13')).toEqual(['A', 'Bb', 'D', 'E'])
  })
  it('keep common tones: C to Am moves one voice by a step', () => {
    const [c, am] = voiced('C', 'Am') as [number[], number[]]
    expect(
      leadVoices(c, am)
        .map(move => Math.abs(move.by))
        .sort(),
    ).toEqual([0, 0, 2])
  })
  it('move less than root positions do, in every key', () => {
    for (const tonic of ['C', 'D', 'Eb', 'F', 'G', 'A', 'Bb']) {
      const [i, , , iv, v, vi] = Scale.get(`${tonic} major`).notes as [string, string, string, string, string, string]
      const symbols = [i, `${vi}m`, iv, `${v}7`, i]
      const roots = symbols.map(symbol => {
        const [root, ...rest] = spellSymbol(symbol).notes.map(name => Note.chroma(name)!) as [number, ...number[]]
        return [60 + root, ...rest.map(one => 60 + root + ((one - root + 12) % 12))]
      })
      expect(total(voiced(...symbols))).toBeLessThan(total(roots) / 2)
    }
  })
  it('keep a bass that is asked for lowest, of the chord or not', () => {
    const over = (symbol: string) =>
      voiceChords([{ notes: spellSymbol(symbol).notes, bass: spellSymbol(symbol).bass }], {
        ...RIGHT_ROOM,
        mostNotes: 4,
      })[0]!.map(pitch => Note.pitchClass(Note.fromMidi(pitch)))
    expect(over('C/E')).toEqual(['E', 'G', 'C'])
    expect(over('F/G')).toEqual(['G', 'A', 'C', 'F'])
  })
  it('give up notes where another hand leaves no room, the fifth first', () => {
    const under = (below: number) =>
      voiceChords([{ notes: ['C', 'E', 'G'], below }], { lowest: 48, highest: 64, centre: 55, mostNotes: 3 })[0]
    expect([under(60), under(54), under(48)]).toEqual([[48, 52, 55], [48, 52], []])
  })
  it('of no chords are none', () => expect(voiceChords([])).toEqual([]))
})
