/**
 * What a teacher would hear in takes written out by hand, without the simulated players: each fault is a beginner's
 * usual one (common practice), and each take says what was struck, when.
 */
import { describe, expect, it } from 'vitest'
import { backup, note, quarterNotes } from '../../tests/material/score'
import { played, score, type Score } from '../../tests/material/takes'
import { expectedNotes, wholePassage, type ExpectedNote } from '../music/passage'
import { findingTexts, passSentence } from '../words/findings'
import { assessTake } from './assess'
import type { Assessment } from './assessment'
import type { TakeNote } from './take'

const assess = (arrangement: Score, notes: TakeNote[], mode: 'steady' | 'free' = 'steady'): Assessment =>
  assessTake({
    arrangement,
    passage: wholePassage(arrangement, 'both'),
    mode,
    bpm: mode === 'steady' ? 120 : undefined,
    take: { notes, pedals: [] },
  })
const kinds = ({ findings }: Assessment) => findings.map(one => one.kind)
const barOf = ({ eventMs: eventMs }: ExpectedNote, barMs = 2000) => 1 + Math.floor((eventMs + 1) / barMs)

const MELODY = [
  'C4 E4 D4 F4',
  'G4 F4 A4 E4',
  'D4 B4 C5 G4',
  'A4 F4 G4 E4',
  'F4 D4 E4 C4',
  'G4 B3 D4 C4',
  'E4 G4 F4 A4',
  'B4 G4 D4 C4',
]
const BASS = ['C3', 'F3', 'G3', 'A3', 'D3', 'G3', 'F3', 'C3']
const ONE_HAND = score(MELODY.map(bar => quarterNotes(bar)))
const TWO_HANDS = score(
  MELODY.map(
    (bar, index) =>
      quarterNotes(bar, 1) +
      backup(4) +
      note({ pitch: BASS[index]!, length: 2, staff: 2 }) +
      note({ pitch: BASS[(index + 3) % 8]!, length: 2, staff: 2 }),
  ),
  { staves: 2 },
)

describe.each(['steady', 'free'] as const)('a %s take', mode => {
  it('of right notes in time is clean and nothing else', () => {
    expect(kinds(assess(TWO_HANDS, played(TWO_HANDS), mode))).toEqual(['clean'])
  })

  it.each([65, 80, 100])('with the left hand %i ms behind is not clean, and the lag is nobody’s keyboard', ms => {
    const assessment = assess(
      TWO_HANDS,
      played(TWO_HANDS, one => (one.hand === 'left' ? { onsetMs: one.eventMs + ms } : {})),
      mode,
    )
    expect(assessment.summary).toMatchObject({ clean: false, failed: ['hands'] })
    expect(kinds(assessment)).toEqual(['hands-apart'])
    expect(assessment.findings[0]).toMatchObject({ hand: 'left' })
    expect(Math.abs(assessment.summary.offsetMs)).toBeLessThan(8)
  })

  it('with two bars 30 % slower names them, and no pause', () => {
    const slow = (atMs: number) => atMs + Math.max(0, Math.min(atMs, 12_000) - 8000) * (1 / 0.7 - 1)
    const assessment = assess(
      TWO_HANDS,
      played(TWO_HANDS, one => ({ onsetMs: slow(one.eventMs) })),
      mode,
    )
    expect(kinds(assessment)).toEqual(['section-tempo'])
    expect(assessment.findings[0]).toMatchObject({ fromBar: 5, toBar: 6 })
    const { percent } = assessment.findings[0] as { percent: number }
    expect(Math.abs(percent - 30)).toBeLessThanOrEqual(3)
  })

  it('with one hand an octave away is understood', () => {
    const assessment = assess(
      TWO_HANDS,
      played(TWO_HANDS, one => (one.hand === 'left' ? { pitch: one.pitch - 12 } : {})),
      mode,
    )
    expect(kinds(assessment)).toEqual(['hand-displaced'])
    expect(assessment.findings[0]).toMatchObject({ hand: 'left', halfSteps: -12, whole: true })
    expect(assessment.summary).toMatchObject({ clean: false, failed: ['notes'] })
  })
})

describe('ties', () => {
  const TIED = score(
    MELODY.map((bar, index) => {
      const [first, second, third] = bar.split(' ')
      return (
        note({ pitch: first!, length: 1, ties: index % 2 ? ['stop'] : [] }) +
        note({ pitch: second!, length: 1 }) +
        note({ pitch: third!, length: 1 }) +
        note({
          pitch: index % 2 ? 'D4' : MELODY[index + 1]!.split(' ')[0]!,
          length: 1,
          ties: index % 2 ? [] : ['start'],
        })
      )
    }),
  )

  it('that are held are nothing to say', () => expect(kinds(assess(TIED, played(TIED)))).toEqual(['clean']))

  it('struck again are that: no pause, no extra key', () => {
    const tied = expectedNotes(TIED, wholePassage(TIED, 'both'), 120).filter(one => one.ties?.length)
    expect(tied).toHaveLength(4)
    const again = tied.map(one => ({ onsetMs: one.eventMs + 500, durationMs: 450, pitch: one.pitch, velocity: 60 }))
    const assessment = assess(
      TIED,
      played(TIED, one => (one.ties?.length ? { durationMs: 450 } : {}), again),
    )
    expect(kinds(assessment)).toEqual(['re-struck-tie'])
    expect(assessment.findings[0]).toMatchObject({ count: 4, bar: 2, beat: 1 })
    expect(assessment.extras.every(one => one.restruck)).toBe(true)
  })
})

describe('the very first note', () => {
  it.each(['steady', 'free'] as const)(
    'played wrong, a little early, is a wrong note and no key before the music, %s',
    mode => {
      const assessment = assess(
        TWO_HANDS,
        played(TWO_HANDS, (one, index) => (index === 1 ? { pitch: one.pitch + 1, onsetMs: one.eventMs - 40 } : {})),
        mode,
      )
      expect(kinds(assessment)).toEqual(['wrong-note'])
      expect(assessment.findings[0]).toMatchObject({ bar: 1, beat: 1, hand: 'right' })
    },
  )
})

describe('habits', () => {
  const IN_G = score(
    ['G4 F#4 A4 D5', 'C5 B4 F#4 A4', 'D4 E4 F#4 D4', 'G4 A4 B4 G4', 'F#4 A4 D5 C5', 'B4 A4 F#4 G4'].map(bar =>
      quarterNotes(bar),
    ),
    { fifths: 1 },
  )

  it('F for F♯ wherever it comes is one habit, said by the names the player reads', () => {
    const assessment = assess(
      IN_G,
      played(IN_G, one => (one.spelled === 'F#4' ? { pitch: 65 } : {})),
    )
    expect(kinds(assessment)).toEqual(['signature-forgotten'])
    expect(assessment.findings[0]).toMatchObject({ count: 5, fifths: 1, bar: 1, beat: 2 })
    expect(passSentence(assessment.findings)).toContain('F was played for F♯ 5 times')
    expect(passSentence(assessment.findings, { noteNames: 'german' })).toContain('F was played for Fis')
    expect(passSentence(assessment.findings, { noteNames: 'solfege' })).toContain('Fa was played for Fa♯')
  })
})

describe('counting', () => {
  const FIVE = score(
    ['C4 E4 D4 F4 E4', 'G4 F4 A4 E4 F4', 'D4 B4 C5 G4 E4', 'A4 F4 G4 E4 D4', 'F4 D4 E4 C4 D4', 'G4 B3 D4 C4 E4'].map(
      bar => quarterNotes(bar),
    ),
    { beats: 5 },
  )

  it.each(['steady', 'free'] as const)('six beats in every bar of five, %s', mode => {
    const assessment = assess(
      FIVE,
      played(FIVE, one => ({ onsetMs: one.eventMs + 500 * (barOf(one, 2500) - 1) })),
      mode,
    )
    expect(kinds(assessment)).toEqual(['counting'])
    expect(assessment.findings[0]).toMatchObject({ counted: 6, written: 5, beatType: 4 })
    expect(passSentence(assessment.findings)).toContain('You count six beats where there are five')
  })

  it('coming in a beat late is an entry, not a keyboard that answers late', () => {
    const assessment = assess(
      TWO_HANDS,
      played(TWO_HANDS, one => ({ onsetMs: one.eventMs + 500 })),
    )
    expect(kinds(assessment)).toEqual(['late-entry'])
    expect(assessment.findings[0]).toMatchObject({ beats: 1, atBeginning: true })
    expect(findingTexts(assessment.findings).join(' ')).not.toMatch(/keyboard|delay/)
  })

  it('half the tempo and a much slower one are said as a tempo', () => {
    const at = (times: number) =>
      assess(
        TWO_HANDS,
        played(TWO_HANDS, one => ({ onsetMs: one.eventMs * times, durationMs: one.durationMs * times * 0.95 })),
      )
    expect(kinds(at(2))).toEqual(['wrong-tempo'])
    expect(at(2).findings[0]).toMatchObject({ because: 'half', askedBeatBpm: 120 })
    expect(kinds(at(1.45))).toEqual(['wrong-tempo'])
    expect(at(1.45).findings[0]).toMatchObject({ because: 'slower', percent: 31 })
  })
})

describe('compound meters', () => {
  const EIGHTHS = [
    'C4 E4 G4 E4 D4 F4',
    'G4 F4 E4 D4 E4 C4',
    'A4 F4 D4 G4 E4 C4',
    'B3 D4 G4 F4 D4 E4',
    'C4 G4 E4 D4 B4 G4',
    'A4 G4 F4 E4 D4 C4',
  ]
  const SIX_EIGHT = score(
    EIGHTHS.map(bar =>
      bar
        .split(' ')
        .map(pitch => note({ pitch, length: 0.5 }))
        .join(''),
    ),
    { beats: 6, beatType: 8 },
  )

  it('their beat is the dotted quarter', () =>
    expect(assess(SIX_EIGHT, played(SIX_EIGHT)).score).toMatchObject({ bpm: 120, beatBpm: 80 }))

  it('the third eighth of each beat too late is heard', () => {
    const assessment = assess(
      SIX_EIGHT,
      played(SIX_EIGHT, (one, index) => (index % 3 === 2 ? { onsetMs: one.eventMs + 75 } : {})),
    )
    expect(assessment.findings.find(one => one.kind === 'rhythm')).toMatchObject({ division: 'thirds' })
    expect(assessment.summary.clean).toBe(false)
  })
})

describe('clean, apart from touch', () => {
  it('notes held for 40 %: clean, and the one sentence says what is next', () => {
    const assessment = assess(
      ONE_HAND,
      played(ONE_HAND, one => ({ durationMs: one.durationMs * 0.4 })),
    )
    expect(assessment.summary).toMatchObject({ clean: true, failed: [], cleanBut: ['released-early'] })
    expect(passSentence(assessment.findings)).toBe(
      'Clean. Next: hold the right hand’s notes; they last 40 % of their length.',
    )
  })
})
