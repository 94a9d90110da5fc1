import { describe, expect, it } from 'vitest'
import { isRepeatGoalMet, tallyRepeats } from '../coach/how-often'
import { expectedText, repeatGoalText, outcomeText, isolatedPassageText, soFarText } from './stand'

const WHAT = { bars: 'bars 12 to 15', hands: 'right', bpm: 60, mode: 'steady' } as const
const passes = (text: string) =>
  [...text].map(one => ({ isClean: one === '+', failedBars: one === '+' ? [] : one === '-' ? [13] : [13, 14] }))

describe('the one line', () => {
  it('speaks of a count-in only where there is one', () => {
    expect(expectedText({ kind: 'may-start', what: WHAT })).toBe(
      'Press Space and play after the count-in: bars 12 to 15, right hand, at 60.',
    )
    const own = expectedText({ kind: 'may-start', what: { ...WHAT, mode: 'own-time' } })
    expect(own).toContain('There is no click')
    expect(own).not.toContain('count-in')
  })
  it('says on which beat to begin where that is not the first', () => {
    expect(expectedText({ kind: 'count-in', what: WHAT })).toBe(
      'Listen to the count, then begin: bars 12 to 15, right hand, at 60.',
    )
    expect(expectedText({ kind: 'count-in', what: WHAT, beginsOn: 4 })).toContain('begin on beat 4: ')
  })
  it('says tempos in the beats that are counted', () => {
    expect(expectedText({ kind: 'playing', what: { ...WHAT, bpm: 90, meter: { beats: 6, beatType: 8 } } })).toContain(
      'at 60',
    )
  })
})

describe('so many times', () => {
  it('end when they were played, or when so many in a row were clean', () => {
    const [ten, five] = [
      { until: 'times', count: 3 },
      { until: 'clean-in-a-row', count: 2 },
    ] as const
    expect(
      ['+-', '+--', '++', '+-+', '-++'].map(text => [
        isRepeatGoalMet(ten, tallyRepeats(passes(text))),
        isRepeatGoalMet(five, tallyRepeats(passes(text))),
      ]),
    ).toEqual([
      [false, false],
      [true, false],
      [false, true],
      [true, false],
      [true, true],
    ])
    expect(
      [ten, five, { until: 'stopped' } as const].map(one => [
        repeatGoalText(one),
        soFarText(one, tallyRepeats(passes('-+'))),
      ]),
    ).toEqual([
      ['3 times', '2 of 3 times'],
      ['until 2 in a row are clean', '1 of 2 clean in a row'],
      ['until you stop', ''],
    ])
  })
  it('say what came of them', () => {
    const texts = ['+-++-+++++', '++++', '-', '---', '+', '+-', '++-~+'].map(text =>
      outcomeText(tallyRepeats(passes(text))),
    )
    expect(texts).toEqual([
      'Played 10 times: 8 clean, the last 5 in a row. Bar 13 went wrong in 2 of them.',
      'Played 4 times: all clean.',
      'Played once: none clean yet.',
      'Played 3 times: none clean yet. Bar 13 went wrong in 3 of them.',
      'Played once: clean.',
      'Played twice: 1 clean.',
      'Played 5 times: 3 clean, best run 2 in a row. Bar 13 went wrong in 2 of them.',
    ])
  })
  it('stand on the button that plays a place by itself', () => {
    expect(
      isolatedPassageText(
        {
          stretch: { from: { n: 0, d: 1 }, to: { n: 4, d: 1 } },
          hands: 'both',
          bpm: 58,
          howOften: { until: 'clean-in-a-row', count: 3 },
        },
        'bar 3',
      ),
    ).toBe('Bar 3 alone at 58 bpm, until 3 in a row are clean')
  })
})
