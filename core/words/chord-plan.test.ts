import { describe, expect, it } from 'vitest'
import { planText } from './chord-plan'
import { symbolText } from './note-names'

const chord = (symbol: string, count: number) => ({ symbol, count })

describe('a plan of chords in words', () => {
  it.each([
    [{ unit: 'bar', turns: [{ chords: [chord('C', 4), chord('F', 2)], times: 1 }] }, 'C 4 bars, F 2 bars'],
    [
      {
        unit: 'bar',
        turns: [
          { chords: [chord('C', 1), chord('Am', 1)], times: 2 },
          { chords: [chord('G7', 2)], times: 1 },
        ],
      },
      'twice C 1 bar, Am 1 bar; then G7 2 bars',
    ],
    [
      { unit: 'half bar', turns: [{ chords: [chord('C', 1), chord('F#m7b5', 3), chord('Bb/D', 2)], times: 3 }] },
      '3 times C half a bar, F♯m7♭5 1½ bars, B♭/D 1 bar',
    ],
    [{ unit: 'beat', turns: [{ chords: [chord('C', 1), chord('G', 3)], times: 1 }] }, 'C 1 beat, G 3 beats'],
  ] as const)('%j', (plan, text) => expect(planText(plan as unknown as Parameters<typeof planText>[0])).toBe(text))
})

/** In German B natural is H and B flat is B (common practice). */
describe('chord symbols as players read them', () => {
  it.each([
    ['Bm7', 'Hm7'],
    ['Bb7', 'B7'],
    ['F#m7b5/E', 'Fism7♭5/E'],
    ['Eb/Bb', 'Es/B'],
    ['C7#9', 'C7♯9'],
  ])('%s is %s in German', (symbol, text) => expect(symbolText(symbol, 'german')).toBe(text))
  it.each([
    ['Bm7', 'Bm7'],
    ['Bbmaj7/F', 'B♭maj7/F'],
    ['N.C.', 'N.C.'],
  ])('%s is %s in letters', (symbol, text) => expect(symbolText(symbol)).toBe(text))
})
