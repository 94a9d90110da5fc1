/** A hand that lies elsewhere on the keyboard, in takes written down here. */
import { describe, expect, it } from 'vitest'
import { backup, note, quarterNotes } from '../../tests/material/score'
import { played, score, type Change } from '../../tests/material/takes'
import { expectedNotes, wholePassage } from '../music/passage'
import { alignTake } from './align'
import { byWhiteKeys, displacedForAWhile, handDisplaced } from './displaced'
import { bestAlignment, type AlignmentRequest } from './alignment-hypothesis'
import { DEFAULT_EAR } from './parameters'

const BARS = [
  'C5 E5 D5 F5',
  'G5 F5 A5 E5',
  'D5 B5 C6 G5',
  'A5 F5 G5 E5',
  'F5 D5 E5 C5',
  'G5 B4 D5 C5',
  'E5 G5 F5 A5',
  'B5 G5 D5 C5',
]
const BASS = ['C3', 'F3', 'G3', 'A3', 'D3', 'G3', 'F3', 'C3']
const TWO_HANDS = score(
  BARS.map(
    (bar, index) =>
      quarterNotes(bar, 1) +
      backup(4) +
      note({ pitch: BASS[index]!, length: 2, staff: 2 }) +
      note({ pitch: BASS[(index + 3) % 8]!, length: 2, staff: 2 }),
  ),
  { staves: 2 },
)
const BAR_MS = 2000
const request = (change: Change): AlignmentRequest => ({
  expected: expectedNotes(TWO_HANDS, wholePassage(TWO_HANDS, 'both'), 120),
  played: played(TWO_HANDS, change),
  steady: true,
  beatMs: 500,
  ear: DEFAULT_EAR,
  bars: TWO_HANDS.bars,
})
const shift =
  (hand: 'left' | 'right', by: (pitch: number) => number, fromMs = 0, toMs = Infinity): Change =>
  ({ hand: own, pitch, eventMs: eventMs }) =>
    own === hand && eventMs >= fromMs && eventMs < toMs ? { pitch: by(pitch) } : {}

describe('white keys', () => {
  it.each([
    ['C4 to D4', 60, 1, 62],
    ['E4 to F4', 64, 1, 65],
    ['B4 to C5', 71, 1, 72],
    ['C4 down to B3', 60, -1, 59],
    ['F4 down to E4', 65, -1, 64],
    ['an octave is seven of them', 67, 7, 79],
    ['a black key counts as the white one below: F♯4 to G4', 66, 1, 67],
    ['two up from A4 is C5', 69, 2, 72],
  ] as const)('%s', (_what, pitch, keys, to) => {
    expect(byWhiteKeys(pitch, keys)).toBe(to)
  })

  it('go back where they came from', () => {
    for (const white of [60, 62, 64, 65, 67, 69, 71])
      for (let keys = -10; keys <= 10; keys++) expect(byWhiteKeys(byWhiteKeys(white, keys), -keys)).toBe(white)
  })
})

describe('a hand through the whole take', () => {
  const displaced = (change: Change) => {
    const one = request(change)
    return handDisplaced(one, bestAlignment(one))
  }

  it.each([
    ['left', -12],
    ['right', 12],
    ['left', 12],
    ['right', -5],
  ] as const)('the %s hand %i half steps off is found', (hand, halfSteps) => {
    expect(displaced(shift(hand, pitch => pitch + halfSteps))).toMatchObject({ hand, halfSteps })
  })

  it('is not looked for where the hands lie right, or a few keys are wrong', () => {
    expect(displaced(() => ({}))).toBeUndefined()
    expect(displaced((one, index) => (index % 9 === 4 ? { pitch: one.pitch + 1 } : {}))).toBeUndefined()
  })

  it('what it played stands for its notes, wrong; the other hand is right', () => {
    const { outcomes, displaced: found } = alignTake(request(shift('left', pitch => pitch - 12)))
    const { expected } = request(() => ({}))
    expect(found).toEqual({ hand: 'left', halfSteps: -12 })
    expected.forEach(({ hand }, index) => expect(outcomes[index]!.outcome).toBe(hand === 'left' ? 'wrong' : 'right'))
  })
})

describe('a hand for a while', () => {
  it.each([
    ['one white key up', (pitch: number) => byWhiteKeys(pitch, 1)],
    ['an octave down', (pitch: number) => pitch - 12],
  ] as const)('%s for three bars: each of its notes has its stroke, and none is missing', (_what, by) => {
    const one = request(shift('right', by, 2 * BAR_MS, 5 * BAR_MS))
    const { standsFor } = displacedForAWhile(one, bestAlignment(one))
    expect(standsFor.every(stroke => stroke !== null)).toBe(true)
    one.expected.forEach((written, index) =>
      expect(Math.abs(one.played[standsFor[index]!]!.onsetMs - written.onsetMs)).toBeLessThan(60),
    )
  })

  it('leaves a take alone in which all is well', () => {
    const one = request(() => ({}))
    const together = bestAlignment(one)
    expect(displacedForAWhile(one, together)).toBe(together)
  })
})
