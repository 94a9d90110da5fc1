import { Chord, Note } from 'tonal'
import { describe, expect, it } from 'vitest'
import { nameChord } from './chord-name'

const ROOTS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
const KINDS = [
  'M',
  'm',
  'dim',
  'aug',
  'sus2',
  'sus4',
  '6',
  'm6',
  '7',
  'maj7',
  'm7',
  'mMaj7',
  'dim7',
  'm7b5',
  '7sus4',
  '9',
  'maj9',
  'm9',
  'add9',
  'madd9',
  '69',
  '11',
  'm11',
  '13',
  'maj13',
  '7b9',
  '7#9',
  '7#5',
  '7b5',
  '7#11',
]
const chroma = (names: readonly string[]) => [...new Set(names.map(name => Note.chroma(name)!))].sort((a, b) => a - b)
const turned = (names: readonly string[], by: number) => [...names.slice(by), ...names.slice(0, by)]

/** Against tonal's chord dictionary: every root, thirty kinds, every position. */
describe('names of chords', () => {
  it.each(KINDS)('%s in root position has its name on every root', kind => {
    for (const root of ROOTS)
      expect(nameChord(Chord.getChord(kind, root).notes)).toMatchObject({
        symbol: root + (kind === 'M' ? '' : kind),
        inversion: 0,
        missing: [],
      })
  })
  it('in every position the name has the notes that sound, and names the bass', () => {
    for (const kind of KINDS) {
      for (const root of ROOTS) {
        const { notes } = Chord.getChord(kind, root)
        for (let by = 1; by < notes.length; by++) {
          const played = turned(notes, by)
          const named = nameChord(played)!
          expect(chroma([...named.notes, named.bass])).toEqual(chroma([...played, ...named.missing]))
          expect(Note.chroma(named.bass)).toBe(Note.chroma(played[0]!))
          expect(named.missing.length).toBeLessThanOrEqual(1)
        }
      }
    }
  })
  it('is the same chord on all roots, in every position and without its fifth', () => {
    for (const kind of KINDS) {
      const names = (root: string) => {
        const { notes } = Chord.getChord(kind, root)
        const sets = [notes, notes.filter((_, place) => place !== 2)].filter(set => set.length >= 3)
        return sets.flatMap(set =>
          set.map((_, by) => {
            const named = nameChord(turned(set, by))
            return (
              named && [
                named.symbol.replace(/^[A-G][#b]*/, '').replace(/\/.*/, ''),
                (Note.chroma(named.notes[0]!)! - Note.chroma(root)! + 12) % 12,
                named.inversion,
                named.missing.length,
              ]
            )
          }),
        )
      }
      for (const root of ROOTS) expect(names(root)).toEqual(names('C'))
    }
  })
  it('a seventh without its fifth is a seventh, and says so; a thirteenth too', () => {
    expect(nameChord(['C4', 'E4', 'Bb4'])).toMatchObject({ symbol: 'C7', missing: ['G'] })
    expect(nameChord(['C3', 'Bb3', 'E4', 'A4'])).toMatchObject({ symbol: 'C13', missing: ['G', 'D'] })
    expect(nameChord(['C3', 'Bb3', 'D4', 'E4', 'A4'])).toMatchObject({ symbol: 'C13', missing: ['G'] })
  })
  it('half-diminished is no minor sixth, and a minor sixth is none', () => {
    expect(nameChord(['B3', 'D4', 'F4', 'A4'])!.symbol).toBe('Bm7b5')
    expect(nameChord(['D4', 'F4', 'A4', 'B4'])!.symbol).toBe('Dm6')
  })
  it('what is the same on each of its notes is named as it is spelled', () => {
    expect(nameChord(['B3', 'D4', 'F4', 'G#4'])).toMatchObject({ symbol: 'G#dim7/B', inversion: 1 })
    expect(nameChord(['B3', 'D4', 'F4', 'Ab4'])).toMatchObject({ symbol: 'Bdim7', inversion: 0 })
    expect(nameChord(['E4', 'G#4', 'C5'])!.symbol).toBe('Caug/E')
  })
  it('a triad over another bass is a slash chord', () =>
    expect(nameChord(['F#3', 'C4', 'E4', 'G4'])).toMatchObject({ symbol: 'C/F#', inversion: null }))
  it('two different notes are no chord, nor is a cluster', () => {
    expect(nameChord(['G3', 'D4', 'G4'])).toBeUndefined()
    expect(nameChord(['C4', 'C#4', 'D4', 'D#4', 'E4'])).toBeUndefined()
    expect(nameChord([])).toBeUndefined()
  })
})
