import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { wholePassage } from '../music/passage'
import { assessTake } from './assess'
import type { Assessment } from './assessment'
import { gatherTake, keyEvent, type Take, type TakeNote } from './take'
import { findingText } from '../words/findings'

/** Four bars of quarters at 60 bpm: one note a second. */
const SCALE = readMusicXml(
  bytesOf(
    pianoScore([
      attributes() + quarterNotes('C4 D4 E4 F4'),
      quarterNotes('G4 A4 B4 C5'),
      quarterNotes('C5 B4 A4 G4'),
      quarterNotes('F4 E4 D4 C4'),
    ]),
  ),
).arrangement
const PITCHES = [60, 62, 64, 65, 67, 69, 71, 72, 72, 71, 69, 67, 65, 64, 62, 60]
const stroke = (onsetMs: number, pitch: number): TakeNote => ({ onsetMs, durationMs: 900, pitch, velocity: 70 })
const exact = () => PITCHES.map((pitch, index) => stroke(index * 1000, pitch))
const sorted = (notes: TakeNote[]): Take => ({
  notes: [...notes].sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch),
  pedals: [],
})
const steady = (notes: TakeNote[], offsetMs = 0) =>
  assessTake({
    arrangement: SCALE,
    passage: wholePassage(SCALE, 'both'),
    take: sorted(notes),
    mode: 'steady',
    bpm: 60,
    offsetMs,
  })
const outcomes = (assessment: Assessment) => assessment.notes.map(one => one.outcome[0]).join('')

/** What must hold of every assessment, by the contract. */
function expectWhole(assessment: Assessment, played: number) {
  const placed = [...assessment.notes.flatMap(one => one.played ?? []), ...assessment.extras.map(one => one.played)]
  expect([...placed].sort((a, b) => a - b)).toEqual(Array.from({ length: played }, (_, index) => index))
  expect(assessment.notes.every(one => (one.outcome === 'missed') === (one.played === null))).toBe(true)
  const { notes, right, wrong, missed, extra } = assessment.summary
  expect(right + wrong + missed).toBe(notes)
  expect(extra).toBe(assessment.extras.length)
}

describe('a steady pass', () => {
  it('that is exact is clean', () => {
    const assessment = steady(exact())
    expect(outcomes(assessment)).toBe('r'.repeat(16))
    expect(assessment.summary).toMatchObject({
      clean: true,
      score: 100,
      onTimeShare: 1,
      offsetMs: 0,
      driftPercent: 0,
      unsteadinessMs: 0,
    })
    expect(assessment.findings.map(one => one.kind)).toEqual(['clean'])
  })

  it('knows a wrong note, a missed one, an extra one and a late one for what they are', () => {
    const notes = exact()
    notes[2] = stroke(2000, 63)
    notes[5] = stroke(5090, 69)
    notes.splice(9, 1)
    notes.push(stroke(12_500, 74))
    const assessment = steady(notes)
    expectWhole(assessment, 16)
    expect(outcomes(assessment)).toBe('rrwrrrrrrmrrrrrr')
    expect(assessment.notes[2]).toMatchObject({ bar: 1, beat: 3, pitch: 64, playedPitch: 63 })
    expect(assessment.notes[5]).toMatchObject({ deviationMs: 90 })
    expect(assessment.extras).toMatchObject([{ pitch: 74, atMs: 12_500 }])
    expect(assessment.summary.clean).toBe(false)
    expect(assessment.findings[0]).toMatchObject({ kind: 'wrong-note', bar: 1, beat: 3, hand: 'right' })
    expect(findingText(assessment.findings[0]!)).toContain('Bar 1, beat 3, right hand: E♭ instead of E')
    expect(assessment.findings.map(one => one.kind)).toEqual(expect.arrayContaining(['missed-note', 'extra-note']))
  })

  it('names an octave as an octave', () => {
    const notes = exact()
    notes[4] = stroke(4000, 79)
    const assessment = steady(notes)
    expect(assessment.notes[4]).toMatchObject({ outcome: 'wrong', octave: true, playedPitch: 79 })
    expect(assessment.findings[0]).toMatchObject({ kind: 'octave' })
  })

  it('finds a pause and where it begins', () => {
    const notes = exact().map((one, index) =>
      index < 8 ? one : { ...one, onsetMs: one.onsetMs + 420 / 2 ** (index - 8) },
    )
    const finding = steady(notes).findings.find(one => one.kind === 'hesitation')
    expect(finding).toMatchObject({ bar: 3, beat: 1, ms: 420 })
    expect(findingText(finding!)).toContain('about half a second (420 ms)')
  })

  it('takes a known keyboard delay off, and names a steady lateness that is left', () => {
    const late = exact().map(one => ({ ...one, onsetMs: one.onsetMs + 95 }))
    expect(steady(late).summary.offsetMs).toBe(95)
    expect(steady(late).findings.map(one => one.kind)).toContain('late')
    expect(steady(late, 95).findings.map(one => one.kind)).toEqual(['clean'])
    expect(steady(exact().map(one => ({ ...one, onsetMs: one.onsetMs - 95 }))).findings.map(one => one.kind)).toContain(
      'early',
    )
  })

  it('tells rushing from unevenness', () => {
    const rushed = steady(exact().map(one => ({ ...one, onsetMs: one.onsetMs * 0.96 })))
    expect(rushed.summary.driftPercent).toBeCloseTo(-4, 5)
    expect(rushed.findings[0]).toMatchObject({ kind: 'rushing', percent: 4 })
    const uneven = steady(exact().map((one, index) => ({ ...one, onsetMs: one.onsetMs + (index % 2 ? 105 : -105) })))
    expect(uneven.findings.map(one => one.kind)).toContain('uneven')
    expect(Math.abs(uneven.summary.offsetMs)).toBeLessThanOrEqual(105)
  })

  it('of an empty take, or of something else, says so in one sentence', () => {
    const empty = steady([])
    expect(outcomes(empty)).toBe('m'.repeat(16))
    expect(empty.findings).toHaveLength(1)
    expect(findingText(empty.findings[0]!)).toContain('No notes were heard')
    const other = steady(Array.from({ length: 12 }, (_, index) => stroke(450 + index * 1000, 30 + index)))
    expectWhole(other, 12)
    expect(other.summary.right).toBe(0)
  })

  it('of one repeated note matches each stroke to the nearest beat', () => {
    const repeated = readMusicXml(bytesOf(pianoScore([attributes() + quarterNotes('C4 C4 C4 C4')]))).arrangement
    const take = sorted([stroke(20, 60), stroke(2030, 60), stroke(2990, 60)])
    const assessment = assessTake({
      arrangement: repeated,
      passage: wholePassage(repeated, 'both'),
      take,
      mode: 'steady',
      bpm: 60,
    })
    expect(assessment.notes.map(one => one.played)).toEqual([0, null, 1, 2])
  })
})

describe('hands and chords', () => {
  const chords = readMusicXml(
    bytesOf(
      pianoScore(
        Array.from(
          { length: 4 },
          (_, index) =>
            (index === 0 ? attributes({ staves: 2 }) : '') +
            note({ pitch: 'C4', length: 4, staff: 1 }) +
            note({ pitch: 'E4', length: 4, staff: 1, chord: true }) +
            note({ pitch: 'G4', length: 4, staff: 1, chord: true }) +
            backup(4) +
            note({ pitch: 'C3', length: 4, staff: 2 }),
        ),
      ),
    ),
  ).arrangement
  const played = (spreadMs: number, leftLateMs: number) =>
    [0, 4000, 8000, 12_000].flatMap(at => [
      stroke(at, 60),
      stroke(at + spreadMs / 2, 64),
      stroke(at + spreadMs, 67),
      stroke(at + leftLateMs, 48),
    ])
  const assess = (notes: TakeNote[], hands: 'both' | 'right' = 'both') =>
    assessTake({
      arrangement: chords,
      passage: wholePassage(chords, hands),
      take: sorted(notes),
      mode: 'steady',
      bpm: 60,
    })

  it('a chord rolled by a tenth of a second is right, and its spread is said', () => {
    const assessment = assess(played(100, 0))
    expect(assessment.summary).toMatchObject({ right: 16, wrong: 0, extra: 0 })
    expect(assessment.findings.find(one => one.kind === 'chord-spread')).toMatchObject({ ms: 100, bar: 1, beat: 1 })
  })

  it('a left hand that comes behind is named', () => {
    expect(assess(played(0, 80)).findings.find(one => one.kind === 'hands-apart')).toMatchObject({
      hand: 'left',
      ms: 80,
    })
  })

  it('one hand alone is asked only for its own notes', () => {
    expect(
      assess(
        played(0, 0).filter(one => one.pitch >= 60),
        'right',
      ).summary,
    ).toMatchObject({ notes: 12, right: 12, clean: true })
  })
})

describe('a take without a click', () => {
  it.each([0.5, 1.3, 2])('has its start and tempo found when it is %f times as long as written', stretch => {
    const take = sorted(exact().map(one => ({ ...one, onsetMs: 3100 + one.onsetMs * stretch })))
    const assessment = assessTake({ arrangement: SCALE, passage: wholePassage(SCALE, 'both'), take, mode: 'free' })
    expect(outcomes(assessment)).toBe('r'.repeat(16))
    // The score has no tempo of its own, so it is read at 100.
    expect(assessment.score.bpm).toBeCloseTo(60 / stretch, 0)
    expect(Math.max(...assessment.notes.map(one => Math.abs(one.deviationMs!)))).toBeLessThan(2)
  })

  it('may slow down to half by its end', () => {
    let at = 500
    const take = sorted(PITCHES.map((pitch, index) => stroke((at += index === 0 ? 0 : 500 + index * 35), pitch)))
    expect(outcomes(assessTake({ arrangement: SCALE, passage: wholePassage(SCALE, 'both'), take, mode: 'free' }))).toBe(
      'r'.repeat(16),
    )
  })
})

describe('messages of keyboards', () => {
  it('become key events; what is no key or pedal becomes nothing (MIDI 1.0)', () => {
    expect(keyEvent({ bytes: [0x93, 60, 1], atMs: 5 })).toEqual({ kind: 'down', pitch: 60, velocity: 1, atMs: 5 })
    expect(keyEvent({ bytes: [0x90, 60, 0], atMs: 5 })).toEqual({ kind: 'up', pitch: 60, atMs: 5 })
    expect(keyEvent({ bytes: [0xb0, 64, 63], atMs: 5 })).toMatchObject({ kind: 'pedal', down: false })
    for (const bytes of [[0xfe], [0xf8], [0xc0, 5], [0xe0, 0, 64], [0xb0, 1, 90], []])
      expect(keyEvent({ bytes, atMs: 0 })).toBeUndefined()
  })

  it('are put in order, and a key that is never let go gets an end', () => {
    const { notes } = gatherTake([
      { kind: 'up', pitch: 60, atMs: 400 },
      { kind: 'down', pitch: 60, velocity: 70, atMs: 400 },
      { kind: 'down', pitch: 60, velocity: 60, atMs: 0 },
    ])
    expect(notes).toEqual([
      { onsetMs: 0, durationMs: 400, pitch: 60, velocity: 60 },
      { onsetMs: 400, durationMs: 1000, pitch: 60, velocity: 70, unreleased: true },
    ])
  })
})
