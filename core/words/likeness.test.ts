import { describe, expect, it } from 'vitest'
import type { Likeness } from '../parts/likeness'
import { likenessText } from './likeness'

const like = (what: object, noteNames: 'letters' | 'german' = 'letters') =>
  likenessText(
    { relation: 'same', like: 'Verse', transposedBy: 0, differs: [], ...what } satisfies Omit<
      Likeness,
      'notes' | 'newNotes'
    >,
    { noteNames },
  )
const DIFFERS = {
  relation: 'differs',
  differs: [
    { bar: 8, beat: 4, here: ['D3'], there: [] },
    { bar: 8, beat: 4.5, here: ['A3'], there: ['F#3'], place: 'last' },
    { bar: 9, beat: 1, here: [], there: ['B3'], place: 'behind' },
  ],
}

describe('what a part is like, in words', () => {
  it.each([
    [{}, 'as in Verse'],
    [DIFFERS, 'as in Verse, but bar 8, beat 4: D added; last note A instead of F♯; without the B at the end'],
    [{ relation: 'transposed', transposedBy: -3 }, 'Verse moved down 3 half steps'],
    [{ relation: 'transposed', transposedBy: 3, stepsInKey: 2 }, 'Verse moved up 2 steps of the key'],
    [{ covers: { from: { bar: 3, beat: 1 }, to: { bar: 5, beat: 1 } } }, 'as in Verse, bars 3 to 4'],
    [{ covers: { from: { bar: 3, beat: 4 }, to: { bar: 3, beat: 4 } } }, 'as in Verse, bar 3'],
    [
      { relation: 'transposed', transposedBy: 5, differs: [{ bar: 4, beat: 4, here: ['F4'], there: ['G4'] }] },
      'Verse moved up 5 half steps, but bar 4, beat 4: F instead of G',
    ],
    [{ relation: 'transposed', transposedBy: -12 }, 'Verse moved down an octave'],
    [
      {
        relation: 'differs',
        differs: Array.from({ length: 7 }, (_, place) => ({ bar: 4, beat: place + 1, here: ['F4'], there: [] })),
      },
      'as in Verse, but bar 4, beat 1: F added; bar 4, beat 2: F added; bar 4, beat 3: F added; bar 4, beat 4: F added; and 3 more places',
    ],
    [{ relation: 'rhythm' }, 'the rhythm of Verse, other notes'],
    [{ relation: 'new', like: undefined }, ''],
  ])('%j', (what, text) => expect(like(what)).toBe(text))

  it('by the player’s note names', () =>
    expect(like(DIFFERS, 'german')).toContain('last note A instead of Fis; without the H at the end'))
})
