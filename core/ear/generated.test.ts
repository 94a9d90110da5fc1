/**
 * The ear on music nobody chose: generated scores for two hands, played exactly, then with planted faults. What was
 * done is known.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, pianoScore } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import type { Arrangement } from '../music/arrangement'
import { expectedNotes, wholePassage, type ExpectedNote } from '../music/passage'
import { MACHINE, type PlayerHabits } from '../players/habits'
import { simulatePlayer } from '../players/simulate'
import { assessTake } from './assess'
import type { Assessment } from './assessment'

const NATURALS = ['C', 'D', 'E', 'F', 'G', 'A', 'B']
const nameOf = (degree: number) => `${NATURALS[degree % 7]}${Math.floor(degree / 7)}`

/** A bar of a melody that walks and leaps, in quarters and eighths, over chords in halves. */
const barArbitrary = fc.record({
  melody: fc.array(
    fc.integer({ min: -4, max: 4 }).filter(step => step !== 0),
    { minLength: 8, maxLength: 8 },
  ),
  rhythm: fc.array(fc.constantFrom('quarter', 'eighths'), { minLength: 4, maxLength: 4 }),
  roots: fc.tuple(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 6 })),
  chord: fc.boolean(),
})
type Bar = typeof barArbitrary extends fc.Arbitrary<infer T> ? T : never

function scoreOf(bars: readonly Bar[]): Arrangement {
  let degree = 37
  const measures = bars.map(({ melody, rhythm, roots, chord }, index) => {
    let step = 0
    const next = () => {
      degree += melody[step++ % 8]!
      if (degree > 44) degree -= 7
      if (degree < 33) degree += 7
      return nameOf(degree)
    }
    const right = rhythm
      .map(kind =>
        kind === 'quarter'
          ? note({ pitch: next(), length: 1, staff: 1 })
          : [0, 1].map(() => note({ pitch: next(), length: 0.5, staff: 1 })).join(''),
      )
      .join('')
    const left = roots
      .map(root =>
        (chord ? [0, 2, 4] : [0])
          .map((third, at) => note({ pitch: nameOf(21 + root + third), length: 2, staff: 2, chord: at > 0 }))
          .join(''),
      )
      .join('')
    return (index === 0 ? attributes({ staves: 2 }) : '') + right + backup(4) + left
  })
  return readMusicXml(bytesOf(pianoScore(measures))).arrangement
}

const scoreArbitrary = fc.array(barArbitrary, { minLength: 4, maxLength: 10 }).map(scoreOf)
const tempo = fc.integer({ min: 40, max: 200 })

function listen(arrangement: Arrangement, habits: PlayerHabits, bpm: number, mode: 'steady' | 'free', shiftMs = 0) {
  const passage = wholePassage(arrangement, 'both')
  const expected = expectedNotes(arrangement, passage, bpm)
  const { take, truth } = simulatePlayer(expected, habits, 7)
  const moved = { notes: take.notes.map(one => ({ ...one, onsetMs: one.onsetMs + shiftMs })), pedals: [] }
  return {
    expected,
    truth,
    take: moved,
    assessment: assessTake({ arrangement, passage, take: moved, mode, bpm: mode === 'steady' ? bpm : undefined }),
  }
}
const faults = (assessment: Assessment) => assessment.notes.filter(one => one.outcome !== 'right' && !one.sharedKey)

describe('a generated score', () => {
  it.each(['steady', 'free'] as const)('played exactly is clean at any tempo (%s)', mode => {
    fc.assert(
      fc.property(scoreArbitrary, tempo, fc.integer({ min: 0, max: 5000 }), (arrangement, bpm, startMs) => {
        const { assessment } = listen(arrangement, MACHINE, bpm, mode, mode === 'free' ? startMs : 0)
        expect(faults(assessment)).toEqual([])
        expect(assessment.summary).toMatchObject({ extra: 0, restarts: 0, clean: true })
        expect(Math.abs(assessment.summary.offsetMs)).toBeLessThan(0.5)
        expect(assessment.summary.unsteadinessMs).toBeLessThan(0.5)
        if (mode === 'free') expect(assessment.score.bpm / bpm).toBeCloseTo(1, 1)
      }),
      { numRuns: 40, seed: 21 },
    )
  })

  it('sounds the same to the ear in every key', () => {
    fc.assert(
      fc.property(
        scoreArbitrary,
        fc.integer({ min: -5, max: 5 }),
        fc.integer({ min: 1, max: 1000 }),
        (arrangement, semitones, seed) => {
          const moved: Arrangement = {
            ...arrangement,
            notes: arrangement.notes.map(one => ({ ...one, pitch: one.pitch + semitones })),
          }
          const passage = wholePassage(arrangement, 'both')
          const { take } = simulatePlayer(
            expectedNotes(arrangement, passage, 90),
            { ...MACHINE, jitterMs: 20, missed: 0.06, extra: 0.03 },
            seed,
          )
          const transposed = { notes: take.notes.map(one => ({ ...one, pitch: one.pitch + semitones })), pedals: [] }
          const heard = (score: Arrangement, played: typeof take) =>
            assessTake({ arrangement: score, passage, take: played, mode: 'steady', bpm: 90 }).notes.map(one => [
              one.id,
              one.outcome,
              one.played,
              one.deviationMs,
            ])
          expect(heard(moved, transposed)).toEqual(heard(arrangement, take))
        },
      ),
      { numRuns: 30, seed: 22 },
    )
  })

  it.each(['steady', 'free'] as const)('with wrong keys here and there has just these wrong (%s)', mode => {
    fc.assert(
      fc.property(
        scoreArbitrary,
        tempo,
        fc.array(fc.tuple(fc.integer({ min: 0, max: 500 }), fc.constantFrom(1, -1, 12, -12, 6)), {
          minLength: 1,
          maxLength: 4,
        }),
        (arrangement, bpm, slips) => {
          const notes = arrangement.notes
          const planted = Object.fromEntries(slips.map(([at, by]) => [notes[at % notes.length]!.id, by]))
          // A slip onto a key that is due at the same moment anyway is no slip.
          const expected = expectedNotes(arrangement, wholePassage(arrangement, 'both'), bpm)
          const isHeard = (one: ExpectedNote) =>
            !expected.some(
              other =>
                Math.abs(other.onsetMs - one.onsetMs) < (600 * 60) / bpm &&
                other.pitch === one.pitch + planted[one.id]!,
            )
          fc.pre(expected.every(one => planted[one.id] === undefined || isHeard(one)))
          const { assessment, truth } = listen(arrangement, { ...MACHINE, plantedWrong: planted }, bpm, mode)
          expect(assessment.notes.map(one => one.outcome)).toEqual(truth.notes.map(one => one.outcome))
          expect(assessment.notes.map(one => one.played)).toEqual(truth.notes.map(one => one.played))
          expect(assessment.summary.extra).toBe(0)
          for (const one of assessment.notes)
            if (one.outcome === 'wrong') expect(one.octave ?? false).toBe(Math.abs(planted[one.id]!) === 12)
        },
      ),
      { numRuns: 40, seed: 23 },
    )
  })

  it('with steady lateness, rushing, or a lagging hand has each figure for itself', () => {
    fc.assert(
      fc.property(
        scoreArbitrary,
        fc.integer({ min: -60, max: 60 }),
        fc.integer({ min: -5, max: 5 }),
        fc.integer({ min: -70, max: 70 }),
        (arrangement, offsetMs, rushPercent, leftLateMs) => {
          const bpm = 80
          expect(listen(arrangement, { ...MACHINE, offsetMs }, bpm, 'steady').assessment.summary.offsetMs).toBeCloseTo(
            offsetMs,
            0,
          )
          expect(
            listen(arrangement, { ...MACHINE, rushPercent }, bpm, 'steady').assessment.summary.driftPercent,
          ).toBeCloseTo(-rushPercent, 1)
          const { summary } = listen(arrangement, { ...MACHINE, leftLateMs }, bpm, 'steady').assessment
          expect(summary.leftBehindMs).toBeCloseTo(leftLateMs, 0)
          expect(summary.unsteadinessMs).toBeLessThan(1)
        },
      ),
      { numRuns: 25, seed: 24 },
    )
  })

  it('asks less of the same take at a gentler strictness, and never hears it otherwise', () => {
    fc.assert(
      fc.property(scoreArbitrary, fc.integer({ min: 0, max: 60 }), (arrangement, jitterMs) => {
        const passage = wholePassage(arrangement, 'both')
        const { take } = simulatePlayer(expectedNotes(arrangement, passage, 70), { ...MACHINE, jitterMs }, 3)
        const levels = (['strict', 'normal', 'gentle'] as const).map(strictness =>
          assessTake({ arrangement, passage, take, mode: 'steady', bpm: 70, strictness }),
        )
        for (let level = 1; level < 3; level++) {
          expect(levels[level]!.summary.onTimeShare).toBeGreaterThanOrEqual(levels[level - 1]!.summary.onTimeShare)
          expect(levels[level]!.notes.map(one => one.played)).toEqual(levels[0]!.notes.map(one => one.played))
        }
      }),
      { numRuns: 25, seed: 25 },
    )
  })
})
