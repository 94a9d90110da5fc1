import { describe, expect, it } from 'vitest'
import { weigh } from '../ear/findings/weighed'
import { inWords, stepsText, tempoText } from './amounts'
import { reasonText } from './coach'
import { barNumbersText, barText, beatText, placeText, placeWords } from './places'

describe('places as the player counts them', () => {
  it('bars, the pickup, beats and the & between', () => {
    expect([barText(0), barText(12)]).toEqual(['Pickup', 'Bar 12'])
    // "1 e & a", and "1 trip let" for triplets (common practice).
    expect([1, 2.5, 3.25, 12.75, 3 + 1 / 3, 2.667, 2.9999, 4.125].map(beatText)).toEqual([
      'beat 1',
      'the & of beat 2',
      'the e of beat 3',
      'the a of beat 12',
      'the second triplet note of beat 3',
      'the third triplet note of beat 2',
      'beat 3',
      'after beat 4',
    ])
    expect(
      [
        { bar: 0, beat: 4 },
        { bar: 3, beat: 2 },
        { bar: 3, beat: 2.5 },
      ].map(placeWords),
    ).toEqual(['the pickup', 'bar 3, beat 2', 'bar 3, the & of beat 2'])
    const place = { bar: 3, beat: 2.5, hand: 'left' } as const
    expect(placeText(place)).toBe('Bar 3, the & of beat 2, left hand')
    expect([1, 2, 3, 4].map(time => placeText({ ...place, time }, { hand: false }))).toEqual([
      'Bar 3, the & of beat 2',
      'Bar 3, the & of beat 2, the second time',
      'Bar 3, the & of beat 2, the third time',
      'Bar 3, the & of beat 2, the 4th time',
    ])
    expect(placeText(place, { beat: false })).toBe('Bar 3, left hand')
    expect(placeText(place, { hand: false })).toBe('Bar 3, the & of beat 2')
  })

  it('several bars in few words', () => {
    expect(barNumbersText([4])).toBe('bar 4')
    expect(barNumbersText([0])).toBe('the pickup')
    expect(barNumbersText([5, 4, 4])).toBe('bars 4 and 5')
    expect(barNumbersText([4, 5, 6, 7])).toBe('bars 4 to 7')
    expect(barNumbersText([2, 9, 14])).toBe('3 bars, first bar 2')
  })
})

describe('amounts as a person would say them', () => {
  it('pauses and intervals', () => {
    expect([150, 250, 310, 500, 800, 1000, 1500].map(inWords)).toEqual([
      'a moment',
      'about a quarter of a second',
      'about a third of a second',
      'about half a second',
      'about three quarters of a second',
      'about a second',
      'about 1.5 seconds',
    ])
    expect([1, -2, 7, -12].map(stepsText)).toEqual(['a half step', 'a whole step', '7 half steps', 'an octave'])
  })

  it('tempos in quarter notes, and in the beats of compound meters', () => {
    expect([
      tempoText(96, { beats: 4, beatType: 4 }),
      tempoText(120, { beats: 6, beatType: 8 }),
      tempoText(60, { beats: 12, beatType: 16 }),
    ]).toEqual(['96 bpm', '80 dotted quarters a minute', '80 dotted eighths a minute'])
  })

  it('weights grow beyond the tolerance and level off', () => {
    expect([0.5, 1, 2, 100].map(excess => weigh(5, excess, 11))).toEqual([5, 5, 7, 11])
  })
})

describe('the coach’s tempos', () => {
  it('are in the beats of the meter', () => {
    const reason = { kind: 'gate-up', of: 3, from: 90, to: 96 } as const
    expect(reasonText(reason, { beats: 4, beatType: 4 })).toBe('3 clean in a row at 90: up to 96')
    expect(reasonText(reason, { beats: 6, beatType: 8 })).toBe('3 clean in a row at 60: up to 64')
    expect(reasonText({ kind: 'new', then: { kind: 'start-tempo', bpm: 90 } }, { beats: 12, beatType: 8 })).toBe(
      'new: with the click, at 60',
    )
  })
})
