/** What becomes of a take whose way through the score is not the straight one. Facts of the trade: common practice. */
import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { wholePassage } from '../music/passage'
import { assessTake } from './assess'
import type { AssessmentRequest } from './assessment-request'
import type { Assessment } from './assessment'
import type { TakeNote } from './take'
import { findingText } from '../words/findings'

const BEAT = 500
const MELODY = ['C4 E4 D4 F4', 'G4 F4 A4 E4', 'D4 B4 C5 G4', 'A4 F4 G4 E4', 'F4 D4 E4 C4', 'G4 B3 D4 C4']
const SCORE = readMusicXml(
  bytesOf(pianoScore(MELODY.map((bar, index) => (index === 0 ? attributes() : '') + quarterNotes(bar)))),
).arrangement
const PITCHES = SCORE.notes.map(one => one.pitch)
const stroke = (onsetMs: number, pitch: number, velocity = 70): TakeNote => ({
  onsetMs,
  durationMs: 450,
  pitch,
  velocity,
})
/** Notes `from` to `to` as they are written, beginning at `startMs`. */
const play = (from: number, to: number, startMs: number, beatMs = BEAT) =>
  PITCHES.slice(from, to).map((pitch, index) => stroke(startMs + index * beatMs, pitch))
const assess = (notes: TakeNote[], more: Partial<AssessmentRequest> = {}, arrangement = SCORE): Assessment =>
  assessTake({
    arrangement,
    passage: wholePassage(arrangement, 'both'),
    mode: 'steady',
    bpm: 120,
    take: { notes: [...notes].sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch), pedals: [] },
    ...more,
  })
const outcomes = (assessment: Assessment) => assessment.notes.map(one => one.outcome[0]).join('')
const ALL_RIGHT = 'r'.repeat(24)
const BOTH_MODES = ['steady', 'free'] as const

describe.each(BOTH_MODES)('a %s take', mode => {
  const inMode = (notes: TakeNote[]) => assess(notes, mode === 'free' ? { mode, bpm: undefined } : {})

  it('with a restart keeps the last complete attempt, and counts what was given up once', () => {
    const given = play(0, 12, 0)
    const again = play(8, 24, 12 * BEAT + 700)
    const assessment = inMode([...given, ...again])
    expect(outcomes(assessment)).toBe(ALL_RIGHT)
    expect(assessment.extras.map(one => [one.played, one.restart])).toEqual(
      [8, 9, 10, 11].map(played => [played, true]),
    )
    expect(assessment.summary).toMatchObject({ restarts: 1, extra: 0, clean: false })
    expect(assessment.findings.find(one => one.kind === 'restart')).toMatchObject({ bar: 3, beat: 1 })
  })

  it('with a false start begins where it begins in earnest', () => {
    const assessment = inMode([...play(0, 3, 0), ...play(0, 24, 3000)])
    expect(outcomes(assessment)).toBe(ALL_RIGHT)
    expect(assessment.extras.map(one => one.restart)).toEqual([true, true, true])
  })

  it('with a bar left out misses that bar and nothing else', () => {
    const assessment = inMode([...play(0, 8, 0), ...play(12, 24, 8 * BEAT)])
    expect(outcomes(assessment)).toBe(`${'r'.repeat(8)}mmmm${'r'.repeat(12)}`)
    expect(assessment.findings[0]).toMatchObject({ kind: 'skipped', bar: 3, beat: 1, count: 4 })
    expect(assessment.findings.some(one => one.kind === 'missed-note')).toBe(false)
  })

  it('with a bar played twice counts the second time', () => {
    const assessment = inMode([...play(0, 12, 0), ...play(8, 24, 12 * BEAT)])
    expect(outcomes(assessment)).toBe(ALL_RIGHT)
    expect(assessment.notes[8]!.played).toBe(12)
  })

  it('that stops half way is right up to there, and says where it stopped', () => {
    const assessment = inMode(play(0, 13, 0))
    expect(outcomes(assessment)).toBe('r'.repeat(13) + 'm'.repeat(11))
    expect(assessment.findings[0]).toMatchObject({ kind: 'stopped', bar: 4, beat: 2 })
  })

  it('of other music says so, and nothing else', () => {
    const other = [61, 66, 73, 63, 68, 61, 70, 66, 58, 63, 75, 68].map((pitch, index) => stroke(index * 410, pitch))
    const { findings } = inMode(other)
    expect(findings).toHaveLength(1)
    expect(findings[0]!.kind).toBe('not-this-music')
  })

  it('with wrong notes in a run goes on in its place', () => {
    const notes = play(0, 24, 0)
    for (const at of [5, 6, 7, 8]) notes[at]!.pitch += [1, -2, 2, -1][at - 5]!
    expect(outcomes(inMode(notes))).toBe(`${'r'.repeat(5)}wwww${'r'.repeat(15)}`)
  })

  it('with the hand shifted by a key for a bar says that, once', () => {
    const notes = play(0, 24, 0).map((one, index) =>
      index >= 8 && index < 12 ? { ...one, pitch: one.pitch + 1 } : one,
    )
    const assessment = inMode(notes)
    expect(outcomes(assessment)).toBe(`${'r'.repeat(8)}wwww${'r'.repeat(12)}`)
    expect(assessment.findings[0]).toMatchObject({
      kind: 'hand-displaced',
      bar: 3,
      count: 4,
      halfSteps: 1,
      whole: false,
    })
    expect(findingText(assessment.findings[0]!)).toContain('the hand lies a half step too high for 4 notes')
  })

  it('with an octave wrong is a wrong note in the right name', () => {
    const notes = play(0, 24, 0)
    notes[10]!.pitch -= 12
    expect(inMode(notes).notes[10]).toMatchObject({ outcome: 'wrong', octave: true })
  })

  it('from a keyboard that sends every key twice is faultless', () => {
    const notes = play(0, 24, 0).flatMap(one => [one, { ...one, onsetMs: one.onsetMs + 6 }])
    const assessment = inMode(notes)
    expect(outcomes(assessment)).toBe(ALL_RIGHT)
    expect(assessment.extras.every(one => one.doubled)).toBe(true)
    expect(assessment.summary).toMatchObject({ extra: 0, clean: true })
  })

  it('of a keyboard without releases has no articulation, and is judged all the same', () => {
    const notes = play(0, 24, 0).map(one => ({ ...one, unreleased: true as const }))
    const assessment = inMode(notes)
    expect(assessment.notes.every(one => one.articulation === null)).toBe(true)
    expect(assessment.summary).toMatchObject({ clean: true, articulation: null })
  })
})

describe('a take without a click', () => {
  it('may begin with noodling, drift to half the tempo, and pause', () => {
    let at = 4000
    const notes = PITCHES.map((pitch, index) => stroke((at += 400 + index * 18 + (index === 14 ? 1500 : 0)), pitch))
    const noodling = [
      [0, 81],
      [300, 83],
      [650, 79],
    ].map(([ms, pitch]) => stroke(ms!, pitch!))
    const assessment = assess([...noodling, ...notes], { mode: 'free', bpm: undefined })
    expect(outcomes(assessment)).toBe(ALL_RIGHT)
    expect(assessment.summary.extra).toBe(3)
    expect(assessment.findings.find(one => one.kind === 'hesitation')).toMatchObject({ bar: 4, beat: 3 })
  })

  it.each([30, 60, 120, 240])('is found at %i beats a minute, with its tempo', bpm => {
    const assessment = assess(play(0, 24, 1234, 60_000 / bpm), { mode: 'free', bpm: undefined })
    expect(outcomes(assessment)).toBe(ALL_RIGHT)
    expect(assessment.score.bpm).toBeCloseTo(bpm, 0)
  })
})

describe('with a click', () => {
  it('a stretch taken up again is measured from the beat it fell in with', () => {
    const assessment = assess([...play(0, 12, 0), ...play(8, 24, 14 * BEAT + 20)])
    expect(assessment.notes.slice(8).map(one => one.deviationMs)).toEqual(Array.from({ length: 16 }, () => 20))
  })

  it('holds from 30 to 240 beats a minute', () => {
    for (const bpm of [30, 60, 120, 180, 240]) {
      expect(outcomes(assess(play(0, 24, 15, 60_000 / bpm), { bpm }))).toBe(ALL_RIGHT)
    }
  })
})

describe('chords, both hands and ornaments', () => {
  const chord = (pitches: string[], length: number, staff: number, extra = '') =>
    pitches.map((pitch, index) => note({ pitch, length, staff, chord: index > 0, extra })).join('')
  const TWO_HANDS = readMusicXml(
    bytesOf(
      pianoScore(
        ['C4 E4 G4', 'A3 C4 E4', 'F4 A4 C5', 'G4 B4 D5'].map(
          (keys, index) =>
            (index === 0 ? attributes({ staves: 2 }) : '') +
            quarterNotes('G5 E5 F5 D5', 1) +
            backup(4) +
            chord(keys.split(' '), 2, 2) +
            chord(keys.split(' '), 2, 2),
        ),
      ),
    ),
  ).arrangement
  const all = (offset: (hand: string, index: number) => number) => {
    const due = assessTake({
      arrangement: TWO_HANDS,
      passage: wholePassage(TWO_HANDS, 'both'),
      take: { notes: [], pedals: [] },
      mode: 'steady',
      bpm: 120,
    }).notes
    return due.map((one, index) =>
      stroke(((one.bar - 1) * 4 + one.beat - 1) * BEAT + offset(one.hand, index), one.pitch),
    )
  }

  it('a chord in any order, spread by 150 ms, is right', () => {
    const assessment = assess(
      all((hand, index) => (hand === 'left' ? [150, 0, 70][index % 3]! : 0)),
      {},
      TWO_HANDS,
    )
    expect(assessment.summary).toMatchObject({ right: assessment.summary.notes, wrong: 0, extra: 0 })
  })

  it.each(BOTH_MODES)('a left hand a whole beat behind is right and said to be behind (%s)', mode => {
    const assessment = assess(
      all(hand => (hand === 'left' ? BEAT : 0)),
      mode === 'free' ? { mode, bpm: undefined } : {},
      TWO_HANDS,
    )
    expect(assessment.summary.right / assessment.summary.notes).toBeGreaterThan(0.9)
    expect(assessment.findings.find(one => one.kind === 'hands-apart')).toMatchObject({ hand: 'left' })
    expect(findingText(assessment.findings.find(one => one.kind === 'hands-apart')!)).toContain('a whole beat')
  })

  it('a key that both hands have is struck once, and nothing is missing', () => {
    const unison = readMusicXml(
      bytesOf(
        pianoScore([
          attributes({ staves: 2 }) + quarterNotes('C4 D4 E4 F4', 1) + backup(4) + quarterNotes('C3 D4 C3 F4', 2),
          quarterNotes('G4 A4 B4 C5', 1),
        ]),
      ),
    ).arrangement
    const keys = [[60, 48], [62], [64, 48], [65], [67], [69], [71], [72]]
    const assessment = assess(
      keys.flatMap((pitches, beat) => pitches.map(pitch => stroke(beat * BEAT, pitch))),
      {},
      unison,
    )
    expect(assessment.notes.filter(one => one.outcome === 'missed').map(one => one.sharedKey)).toEqual([true, true])
    expect(assessment.summary.clean).toBe(true)
    expect(assessment.findings.some(one => one.kind === 'missed-note')).toBe(false)
  })

  it('the strokes of a trill belong to its note, and a grace note and a rolled chord have time', () => {
    const ornamented = readMusicXml(
      bytesOf(
        pianoScore([
          attributes() +
            quarterNotes('C5 D5', 1) +
            note({
              pitch: 'E5',
              length: 2,
              staff: 1,
              extra: '<notations><ornaments><trill-mark/></ornaments></notations>',
            }),
          note({ pitch: 'B4', length: 0.5, staff: 1, before: '<grace/>' }) +
            note({ pitch: 'C5', length: 1, staff: 1 }) +
            quarterNotes('G4 A4 B4', 1),
          chord(['C4', 'E4', 'G4', 'C5'], 4, 1, '<notations><arpeggiate/></notations>'),
        ]),
      ),
    ).arrangement
    const trill = Array.from({ length: 8 }, (_, index) => stroke(2 * BEAT + index * 110, index % 2 ? 77 : 76))
    const notes = [
      stroke(0, 72),
      stroke(BEAT, 74),
      ...trill,
      stroke(4 * BEAT - 140, 71),
      stroke(4 * BEAT, 72),
      stroke(5 * BEAT, 67),
      stroke(6 * BEAT, 69),
      stroke(7 * BEAT, 71),
      ...[60, 64, 67, 72].map((pitch, index) => stroke(8 * BEAT + 110 * index, pitch)),
    ]
    const assessment = assess(notes, {}, ornamented)
    expect(assessment.summary).toMatchObject({ right: assessment.summary.notes, extra: 0, clean: true })
    expect(assessment.extras.map(one => one.ornament)).toEqual(Array.from({ length: 7 }, () => true))
    expect(assessment.findings.some(one => one.kind === 'chord-spread')).toBe(false)
  })
})
