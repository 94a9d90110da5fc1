/** Evenness by finger, from deviations that are known. */
import { describe, expect, it } from 'vitest'
import { leastEvenText } from '../words/patterns'
import type { NoteAssessment } from './assessment'
import { evennessByFinger, leastEven } from './by-finger'

const note = (
  hand: 'right' | 'left',
  finger: number | undefined,
  deviationMs: number | null,
  more: Partial<NoteAssessment> = {},
): NoteAssessment => ({
  id: 'n',
  hand,
  bar: 1,
  beat: 1,
  pitch: 60,
  outcome: 'right',
  played: 0,
  playedPitch: 60,
  deviationMs,
  articulation: 1,
  velocity: 60,
  ...(finger ? { finger } : {}),
  ...more,
})
const times = (count: number, make: (index: number) => NoteAssessment) =>
  Array.from({ length: count }, (_, index) => make(index))

describe('evenness by finger', () => {
  it('hears the fourth finger late and soft, whatever the whole hand does', () => {
    for (const all of [0, 35]) {
      const fingers = evennessByFinger([
        ...[1, 2, 3, 5].flatMap(finger => times(6, () => note('left', finger, all))),
        ...times(6, () => note('left', 4, all + 20, { velocity: 48 })),
      ])
      expect(fingers.map(one => one.finger)).toEqual([1, 2, 3, 4, 5])
      expect(leastEven(fingers)).toMatchObject({ hand: 'left', finger: 4, lateMs: 20, louder: -12 })
      expect(leastEvenText(leastEven(fingers)!)).toBe('least even: finger 4 of the left hand, 20 ms behind the others')
    }
  })
  it('hears a thumb that is now early, now late', () => {
    const fingers = evennessByFinger([
      ...times(8, index => note('right', 1, index % 2 ? 18 : -18)),
      ...times(8, () => note('right', 2, 0)),
    ])
    expect(leastEven(fingers)).toMatchObject({ finger: 1, lateMs: 0, spreadMs: 18 })
    expect(leastEvenText(leastEven(fingers)!)).toBe('least even: finger 1 of the right hand, within ± 18 ms')
  })
  it('says nothing of fingers that struck little, wrongly, or are not written', () => {
    expect(
      evennessByFinger([
        ...times(3, () => note('right', 1, 5)),
        ...times(9, () => note('right', undefined, 5)),
        ...times(9, () => note('right', 2, 5, { outcome: 'wrong' })),
      ]),
    ).toEqual([])
    expect(leastEven([])).toBeUndefined()
  })
})
