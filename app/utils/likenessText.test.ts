import { describe, expect, it } from 'vitest'
import { likenessText } from './likenessText'

const like = (what: object) => likenessText({ relation: 'same', like: 'Verse', transposedBy: 0, differs: [], ...what })

describe('what a part is like, in words', () => {
  it.each([
    [{}, 'as in Verse'],
    [{ relation: 'differs', differs: ['bar 8, beat 4: D added', 'last note A instead of F♯'] }, 'as in Verse, but bar 8, beat 4: D added; last note A instead of F♯'],
    [{ relation: 'transposed', transposedBy: -3 }, 'Verse moved down 3 half steps'],
    [{ relation: 'transposed', transposedBy: 3, stepsInKey: 2 }, 'Verse moved up 2 steps of the key'],
    [{ relation: 'rhythm' }, 'the rhythm of Verse, other notes'],
    [{ relation: 'new', like: undefined }, ''],
  ])('%j', (what, text) => expect(like(what)).toBe(text))
})
