import { describe, expect, it } from 'vitest'
import type { Finding } from '../ear/finding'
import { findingTexts, findingText, passSentence } from './findings'
import { signatureText } from './note-names'
import { remarkText } from './remarks'

const at = { hand: 'right', bar: 3, beat: 2 } as const
const once = { ...at, count: 1, places: [at] }

describe('the one sentence', () => {
  it('names notes as the player reads them', () => {
    const wrong: Finding = { kind: 'wrong-note', ...once, written: 'Bb4', instead: 'B4' }
    expect(passSentence([wrong])).toBe(
      'Bar 3, beat 2, right hand: B instead of B♭. Play that beat alone three times, then the bar.',
    )
    expect(passSentence([wrong], { noteNames: 'german' })).toContain('H instead of B.')
    expect(passSentence([wrong], { noteNames: 'solfege' })).toContain('Si instead of Si♭.')
  })

  it('of a clean pass carries the largest of what is next', () => {
    const swing: Finding = { kind: 'swing', ...at, ratio: 1.5, asked: 2, count: 30 }
    expect(passSentence([{ kind: 'clean' }])).toBe('Clean: every note right and in time.')
    expect(passSentence([{ kind: 'clean' }, swing])).toBe(
      'Clean. Next: swing the eighths more; they come out 1.5 to 1, and 2.0 to 1 is asked for.',
    )
    expect(passSentence([{ kind: 'clean' }, { kind: 'pedal-late', ...once, ms: 300, held: false }, swing])).toBe(
      'Clean. Next: lift the pedal as the new chord goes down; it comes up 300 ms late.',
    )
    expect(findingTexts([{ kind: 'clean' }, swing])[1]).toBe(findingText(swing))
  })

  it('of a repeat that was not taken leaves the choice to the player', () => {
    expect(passSentence([{ kind: 'clean' }, { kind: 'repeat-not-taken', fromBar: 1, toBar: 8, count: 40 }])).toBe(
      'Clean: every note right and in time. The repeat of bars 1 to 8 was not taken. That is your choice; as it is written, it comes once more.',
    )
  })

  it('says tempos in the beats that are felt', () => {
    expect(
      passSentence([
        {
          kind: 'wrong-tempo',
          ratio: 0.69,
          percent: 31,
          because: 'slower',
          bpm: 83,
          askedBpm: 120,
          beatBpm: 55.3,
          askedBeatBpm: 80,
        },
      ]),
    ).toBe(
      'You played 31 % slower than the click, about 55 instead of 80 beats a minute. Start lower: set the tempo to what your hands can do now.',
    )
  })

  it('is singular for one and plural for several', () => {
    const tie: Finding = { kind: 're-struck-tie', ...once, written: 'C4' }
    expect(findingText(tie)).toBe(
      'Bar 3, beat 2, right hand: C is tied, and was struck again. Hold the key and count through the tie.',
    )
    expect(findingText({ ...tie, count: 2 })).toContain('; 1 other tied note too.')
    expect(findingText({ ...tie, count: 3 })).toContain('; 2 other tied notes too.')
    expect(
      findingText({
        kind: 'section-tempo',
        percent: 30,
        ratio: 0.7,
        stretches: [{ fromBar: 4, toBar: 4 }],
        fromBar: 4,
        toBar: 4,
        count: 1,
        withClick: true,
      }),
    ).toMatch(/^Bar 4 was 30 % slower than the click\./)
    expect(
      findingText({
        kind: 'section-tempo',
        percent: 30,
        ratio: 1.3,
        stretches: [{ fromBar: 4, toBar: 6 }],
        fromBar: 4,
        toBar: 6,
        count: 1,
        withClick: false,
      }),
    ).toMatch(/^Bars 4 to 6 were 30 % faster than the rest\./)
  })
})

describe('remarks about a file', () => {
  it('say what and where, and pass on what an earlier version kept in words', () => {
    expect(remarkText({ kind: 'cue-notes', bar: '3', places: 3 })).toBe(
      'cue notes are engraved but not played (bar 3 and 2 more)',
    )
    expect(remarkText({ kind: 'drums' })).toBe('drums (channel 10) are not used')
    expect(remarkText('a tie that comes from nowhere')).toBe('a tie that comes from nowhere')
  })
})

describe('key signatures', () => {
  it('are told without deciding between major and minor', () => {
    expect([0, 1, 3, -1, -4].map(signatureText)).toEqual([
      'no sharps or flats',
      '1 sharp',
      '3 sharps',
      '1 flat',
      '4 flats',
    ])
  })
})
