import { describe, expect, it } from 'vitest'
import { quarters } from '../../music/quarters'
import { layVoices } from './voices'

const note = (
  pitch: number,
  onset: number,
  length: number,
  voice = '1',
  grace?: { slash: boolean; before: number },
) => ({
  id: `n${pitch}@${onset}`,
  barIndex: 0,
  onset: quarters(onset),
  duration: quarters(length),
  pitch,
  spelled: 'C4',
  voice,
  tiedIds: [],
  ...(grace ? { grace } : {}),
})
const laid = (...notes: ReturnType<typeof note>[]) =>
  layVoices(notes).map(voice =>
    voice
      .map(
        chord =>
          `${chord.graces.map(grace => `(${grace.pitch})`).join('')}${chord.notes.map(one => one.pitch).join('+')}@${chord.onset.n}`,
      )
      .join(' '),
  )

describe('notes of one staff in voices', () => {
  it('notes that begin and end together are a chord', () =>
    expect(laid(note(60, 0, 2), note(64, 0, 2), note(67, 2, 2))).toEqual(['60+64@0 67@2']))
  it('a longer note under others is a voice of its own', () =>
    expect(laid(note(72, 0, 1), note(48, 0, 4), note(74, 1, 1), note(76, 2, 2))).toEqual(['72@0 74@1 76@2', '48@0']))
  it('voices that the file had stay apart, also where they could be one', () =>
    expect(laid(note(72, 0, 1, '1'), note(60, 0, 1, '2'), note(74, 1, 1, '1'))).toEqual(['72@0 74@1', '60@0']))
  it('a grace note stands before the chord it leads to, in its voice', () => {
    expect(
      laid(
        note(71, 1, 0, '1', { slash: true, before: 1 }),
        note(60, 0, 4, '2'),
        note(72, 0, 1, '1'),
        note(74, 1, 1, '1'),
      ),
    ).toEqual(['72@0 (71)74@1', '60@0'])
  })
  it('as many voices as sound at once, and no more', () => {
    const staircase = [0, 1, 2].map(at => note(60 + at, at, 3))
    expect(laid(...staircase, note(70, 3, 1), note(71, 4, 1))).toEqual(['60@0 70@3 71@4', '61@1', '62@2'])
  })
  it('of nothing are none', () => expect(layVoices([])).toEqual([]))
})
