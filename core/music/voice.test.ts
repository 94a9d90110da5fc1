/** The picture of a voice, and what it is played on (families of General MIDI 1's sound set). */
import { describe, expect, it } from 'vitest'
import { instrumentName } from '../words/instruments'
import { rangeOf, assignedTo } from './voice'

describe('where a voice plays', () => {
  const strike = (onset: number, length: number, pitch: number) => ({ onset, length, pitch })
  it('is the lowest and highest key of each share of the song, and nothing where it rests', () => {
    expect(assignedTo([strike(0, 1, 60), strike(0, 1, 67), strike(3, 1, 48)], 4, 4)).toEqual([
      { low: 60, high: 67 },
      undefined,
      undefined,
      { low: 48, high: 48 },
    ])
  })
  it('goes on as long as a note sounds, and not into the next share', () => {
    expect(assignedTo([strike(0, 2, 60)], 4, 4)).toEqual([
      { low: 60, high: 60 },
      { low: 60, high: 60 },
      undefined,
      undefined,
    ])
  })
  it('stays within the song', () => {
    expect(assignedTo([strike(3.9, 9, 60), strike(-1, 0.5, 50)], 4, 2)).toEqual([
      { low: 50, high: 50 },
      { low: 60, high: 60 },
    ])
  })
  it('has a range only where there are notes', () =>
    expect([rangeOf([]).notes, rangeOf([{ pitch: 60 }, { pitch: 72 }])]).toEqual([
      0,
      { notes: 2, lowest: 60, highest: 72 },
    ]))
})

describe('what it is played on', () => {
  it.each([
    [1, 'piano'],
    [25, 'guitar'],
    [33, 'bass'],
    [49, 'ensemble'],
    [57, 'brass'],
    [74, 'pipe'],
    [128, 'sound effect'],
  ])('program %i is a %s', (program, family) => {
    expect(instrumentName({ name: 'Anything', instrument: `program ${program}`, program: program - 1 })).toBe(family)
  })
  it("is drums on channel 10, and the score's own name else", () => {
    expect(instrumentName({ name: 'Kit', instrument: 'drums', percussion: true })).toBe('drums')
    expect([
      instrumentName({ name: 'Voice', instrument: 'Tenor' }),
      instrumentName({ name: 'Tenor', instrument: 'Tenor' }),
    ]).toEqual(['Tenor', ''])
  })
})
