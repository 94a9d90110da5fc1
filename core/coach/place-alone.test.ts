import { describe, expect, it } from 'vitest'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import type { Finding } from '../ear/finding'
import { findingText } from '../words/findings'
import { describeStretch } from '../words/places'
import { quarters } from '../music/quarters'
import { isolatedPassage } from './place-alone'

const BAR = quarterNotes('C4 D4 E4 F4')
const { arrangement } = readMusicXml(bytesOf(pianoScore([attributes() + BAR, BAR, BAR, BAR])))
const PASS = { stretch: { from: quarters(0), to: quarters(16) }, hands: 'both', bpm: 80 } as const
const at = (bar: number, beat: number) => ({
  hand: 'right' as const,
  bar,
  beat,
  places: [{ hand: 'right' as const, bar, beat }],
})
function asked(finding: Finding) {
  const found = isolatedPassage(arrangement, finding, PASS)
  return (
    found &&
    `${describeStretch(arrangement, found.stretch)} at ${found.bpm}, ${found.howOften.until} ${'count' in found.howOften ? found.howOften.count : ''}, ${found.hands}`
  )
}

describe('a place by itself', () => {
  it('is the bar, slower, where its sentence says so', () => {
    const several: Finding = { kind: 'wrong-note', ...at(3, 2), count: 4, written: 'E4', instead: 'F4' }
    expect(findingText(several)).toContain('Play that bar alone, slower')
    expect(asked(several)).toBe('bar 3 at 64, clean-in-a-row 3, both')
    expect(asked({ kind: 'missed-note', ...at(3, 2), count: 2, written: 'E4' })).toBe(
      'bar 3 at 64, clean-in-a-row 3, both',
    )
  })
  it('is a beat with the one before and the one after it for a single slip', () => {
    expect(asked({ kind: 'wrong-note', ...at(3, 2), count: 1, written: 'D4', instead: 'E4' })).toBe(
      'bar 3 to bar 3, beat 3 at 80, times 3, both',
    )
    expect(
      asked({
        kind: 'hesitation',
        hand: 'left',
        bar: 2,
        beat: 1,
        ms: 600,
        because: 'jump',
        isChord: false,
        written: 'C4',
      }),
    ).toBe('bar 1, beat 4 to bar 2, beat 2 at 80, times 3, both')
  })
  it('is the tempo that was played where the click was too fast', () => {
    expect(
      asked({
        kind: 'wrong-tempo',
        ratio: 0.7,
        percent: 30,
        because: 'slower',
        bpm: 56,
        askedBpm: 80,
        beatBpm: 56,
        askedBeatBpm: 80,
      }),
    ).toBe('bars 1 to 4 at 56, times 3, both')
  })
  it('is no faster than the coach has gone back to by now', () => {
    const single: Finding = { kind: 'wrong-note', ...at(3, 2), count: 1, written: 'D4', instead: 'E4' }
    expect([60, 100].map(nowBpm => isolatedPassage(arrangement, single, PASS, nowBpm)!.bpm)).toEqual([60, 80])
  })
  it('is not asked for by what is no place, nor outside of what was played', () => {
    expect(asked({ kind: 'clean' })).toBeUndefined()
    expect(asked({ kind: 'late', ms: 40, maybeKeyboard: false })).toBeUndefined()
    expect(asked({ kind: 'wrong-note', ...at(9, 1), count: 3, written: 'C4', instead: 'D4' })).toBeUndefined()
  })
})
