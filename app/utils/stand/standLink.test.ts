import { describe, expect, it } from 'vitest'
import { byWeek } from '../ui/byWeek'
import { describePass } from './describePass'
import { sentence } from '../ui/sentence'
import { standLink, stretchFrom } from './standLink'

describe('a link to the Stand', () => {
  it('carries what is to be played, and is read back', () => {
    const stretch = { from: { n: 1, d: 2 }, to: { n: 9, d: 1 } }
    const { path, query } = standLink('p', { hands: 'left', bpm: 71.6, mode: 'own-time', stretch, isLed: true })
    expect([path, query]).toEqual([
      '/stand/p',
      { hands: 'left', bpm: '71.6', mode: 'own-time', from: '1/2', to: '9/1', coach: '1' },
    ])
    expect(stretchFrom(query)).toEqual(stretch)
    expect(standLink('p', { hands: 'both', bpm: 60 }).query).toEqual({ hands: 'both', bpm: '60' })
  })
  it.each([
    [{}],
    [{ from: '1/2' }],
    [{ from: '9/1', to: '1/1' }],
    [{ from: '1/0', to: '2/1' }],
    [{ from: 'x', to: '2/1' }],
    [{ from: ['1/1', '2/1'], to: '3/1' }],
  ])('%j says nothing usable', query => expect(stretchFrom(query)).toBeUndefined())
})

describe('words and weeks', () => {
  it('says how a pass is played', () =>
    expect([
      describePass({ hands: 'both', mode: 'steady', bpm: 71.6 }),
      describePass({ hands: 'left', mode: 'own-time', bpm: 60 }),
    ]).toEqual(['together, 72 bpm', 'left hand, in your own time']))
  it('a reason is a sentence', () =>
    expect([sentence('2 of 3'), sentence('once more.'), sentence('')]).toEqual(['2 of 3.', 'Once more.', '']))
  it('a week begins on Monday, over the turn of a year too', () => {
    const day = (name: string, unsteadinessMs: number | null) => ({
      day: name,
      minutes: 10,
      passes: 4,
      clean: 1,
      unsteadinessMs,
    })
    expect(byWeek([day('2026-12-30', 20), day('2027-01-03', 40), day('2027-01-04', null)])).toEqual([
      { from: '2026-12-28', minutes: 20, passes: 8, clean: 2, unsteadinessMs: 30 },
      { from: '2027-01-04', minutes: 10, passes: 4, clean: 1, unsteadinessMs: null },
    ])
  })
})
