/** What must hold of every assessment, whatever was played: the contract's promises, over random takes. */
import fc from 'fast-check'
import Joi from 'joi'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { barsPassage, expectedNotes, wholePassage } from '../music/passage'
import { MACHINE } from '../players/habits'
import { simulatePlayer } from '../players/simulate'
import { findingText } from '../words/findings'
import { assessTake } from './assess'
import { JUDGE_VERSION } from './assessment'
import { CONDITIONS, domainOf, type Finding } from './finding'
import { createLiveEar } from './live'
import { lineThrough, median, robustSpread, slopeOf, type Point } from './statistics'
import type { TakeNote } from './take'

const SHUFFLE = demoScore('side-street-shuffle.musicxml').arrangement
const PASSAGE = barsPassage(SHUFFLE, 1, 4, 'both')
const EXPECTED = expectedNotes(SHUFFLE, PASSAGE, 100)

const anyNote: fc.Arbitrary<TakeNote> = fc.record({
  onsetMs: fc.double({ min: -300, max: 11_000, noNaN: true }),
  durationMs: fc.double({ min: 0, max: 3000, noNaN: true }),
  pitch: fc.oneof(fc.constantFrom(...EXPECTED.map(note => note.pitch)), fc.integer({ min: 0, max: 127 })),
  velocity: fc.integer({ min: 1, max: 127 }),
})
const anyTake = fc
  .array(anyNote, { maxLength: 120 })
  .map(notes => ({ notes: notes.sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch), pedals: [] }))

const number = Joi.number().required()
const CONTRACT = Joi.object({
  format: Joi.valid('half-step/assessment').required(),
  version: Joi.valid(1).required(),
  mode: Joi.valid('steady', 'free').required(),
  score: Joi.object({
    title: Joi.string().required(),
    bars: Joi.string()
      .pattern(/^\d+-\d+$/)
      .required(),
    hands: Joi.valid('right', 'left', 'both').required(),
    bpm: number,
    beatBpm: Joi.number(),
  }).required(),
  notes: Joi.array()
    .items(
      Joi.object({
        id: Joi.string().required(),
        hand: Joi.valid('right', 'left').required(),
        bar: number,
        beat: Joi.number().min(1).required(),
        pitch: number,
        outcome: Joi.valid('right', 'wrong', 'missed').required(),
        played: number.allow(null),
        playedPitch: number.allow(null),
        deviationMs: number.allow(null),
        articulation: number.allow(null),
        velocity: number.allow(null),
        octave: Joi.valid(true),
        finger: Joi.number().min(1).max(5),
        time: Joi.number().min(2),
        spreadMs: Joi.number(),
        overlapMs: Joi.number().min(0),
        sharedKey: Joi.valid(true),
      }),
    )
    .required(),
  extras: Joi.array()
    .items(
      Joi.object({
        played: number,
        pitch: number,
        atMs: number,
        restart: Joi.valid(true),
        ornament: Joi.valid(true),
        doubled: Joi.valid(true),
        restruck: Joi.valid(true),
        repeat: Joi.valid(true),
      }),
    )
    .required(),
  strictness: Joi.valid('gentle', 'normal', 'strict').required(),
  summary: Joi.object({
    notes: number,
    right: number,
    wrong: number,
    missed: number,
    extra: number,
    onTimeShare: Joi.number().min(0).max(1).required(),
    onTimeMs: number,
    offsetMs: number,
    driftPercent: number,
    unsteadinessMs: Joi.number().min(0).required(),
    clean: Joi.boolean().required(),
    score: Joi.number().integer().min(0).max(100).required(),
    restarts: Joi.number().integer().min(0).required(),
    swingRatio: number.allow(null),
    swingAsked: number.allow(null),
    chordSpreadMs: number.allow(null),
    leftBehindMs: number.allow(null),
    articulation: number.allow(null),
    balanceSteps: number.allow(null),
    pedalMs: number.allow(null),
    failed: Joi.array()
      .items(Joi.valid('notes', 'time', 'hands'))
      .required(),
    cleanBut: Joi.array().items(Joi.string()).required(),
  }).required(),
  measures: Joi.array()
    .items(
      Joi.object({
        name: Joi.string().required(),
        value: number.allow(null),
        unit: Joi.string().allow('').required(),
        least: Joi.number(),
        most: Joi.number(),
        within: Joi.boolean().required(),
        source: Joi.string().required(),
        toleranceMs: Joi.number(),
        beatShare: Joi.number(),
        withClick: Joi.boolean(),
      }),
    )
    .required(),
  findings: Joi.array()
    .min(1)
    .items(
      Joi.object({
        kind: Joi.string().required(),
        hand: Joi.valid('right', 'left'),
        bar: Joi.number(),
        beat: Joi.number().min(1),
        count: Joi.number().min(1),
        places: Joi.array()
          .min(1)
          .items(
            Joi.object({
              hand: Joi.valid('right', 'left'),
              bar: number,
              beat: Joi.number().min(1).required(),
              time: Joi.number().min(2),
            }),
          ),
      })
        .unknown()
        .custom((finding: Finding) => {
          const text = findingText(finding)
          if (text.length < 10 || /!|undefined|NaN|Infinity/.test(text)) throw new Error(text)
          return finding
        }),
    )
    .required(),
  tempos: Joi.array().items(Joi.object({ bar: number, bpm: Joi.number().positive().required() })),
  ear: Joi.valid(JUDGE_VERSION).required(),
})

describe('every assessment', () => {
  it.each(['steady', 'free'] as const)(
    "of a %s take has the contract's shape, each played note in exactly one place, each written one once",
    mode => {
      fc.assert(
        fc.property(anyTake, take => {
          const assessment = assessTake({
            arrangement: SHUFFLE,
            passage: PASSAGE,
            take,
            mode,
            bpm: mode === 'steady' ? 100 : undefined,
          })
          const document = JSON.parse(JSON.stringify(assessment)) as unknown
          expect(CONTRACT.validate(document, { convert: false }).error?.message).toBeUndefined()
          const places = [
            ...assessment.notes.flatMap(note => note.played ?? []),
            ...assessment.extras.map(extra => extra.played),
          ]
          expect(places.sort((a, b) => a - b)).toEqual(take.notes.map((_, index) => index))
          expect(assessment.notes.map(note => note.id).sort()).toEqual(EXPECTED.map(note => note.id).sort())
          for (const note of assessment.notes) {
            if (note.outcome === 'missed') expect(note.played).toBeNull()
            else expect(take.notes[note.played!]!.pitch === note.pitch).toBe(note.outcome === 'right')
            if (note.octave) expect(Math.abs(note.playedPitch! - note.pitch) % 12).toBe(0)
          }
        }),
        { numRuns: 300, seed: 4 },
      )
    },
  )

  it("is the same when the whole take and the keyboard's delay move together", () => {
    // Whole milliseconds, which sums and differences keep exactly.
    const wholeTake = anyTake.map(take => ({
      ...take,
      notes: take.notes
        .map(note => ({ ...note, onsetMs: Math.round(note.onsetMs) }))
        .sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch),
    }))
    fc.assert(
      fc.property(wholeTake, fc.integer({ min: -200, max: 200 }), (take, delayMs) => {
        const moved = { notes: take.notes.map(note => ({ ...note, onsetMs: note.onsetMs + delayMs })), pedals: [] }
        const outcomes = (offsetMs: number, notes: typeof take) =>
          assessTake({
            arrangement: SHUFFLE,
            passage: PASSAGE,
            take: notes,
            mode: 'steady',
            bpm: 100,
            offsetMs,
          }).notes.map(note => [note.outcome, note.played])
        expect(outcomes(delayMs, moved)).toEqual(outcomes(0, take))
      }),
      { numRuns: 100, seed: 6 },
    )
  })

  it('says clean only of a pass that has every note right, none extra and the beat kept', () => {
    for (let seed = 0; seed < 60; seed++) {
      const habits = { ...MACHINE, jitterMs: seed, wrong: seed % 3 === 0 ? 0.02 : 0, extra: seed % 5 === 0 ? 0.02 : 0 }
      const { take } = simulatePlayer(EXPECTED, habits, seed)
      const { summary, findings } = assessTake({
        arrangement: SHUFFLE,
        passage: PASSAGE,
        take,
        mode: 'steady',
        bpm: 100,
      })
      const isRight = summary.right === summary.notes && summary.extra === 0 && summary.restarts === 0
      const inTime = Math.round(summary.notes * (1 - summary.onTimeShare)) <= Math.max(1, 0.05 * summary.notes)
      const found = CONDITIONS.filter(condition => findings.some(finding => domainOf(finding) === condition))
      expect(summary.failed).toEqual(found)
      expect(summary.clean).toBe(found.length === 0)
      expect(summary.failed.includes('notes')).toBe(!isRight)
      if (summary.clean) expect(isRight && inTime).toBe(true)
      expect(findings[0]!.kind === 'clean').toBe(summary.clean)
    }
  })

  it('counts a repeated section each time it comes round', () => {
    const { arrangement } = demoScore('snow-on-the-towpath.musicxml')
    const twice = { ...arrangement, order: [0, 1, 0, 1] }
    const passage = wholePassage(twice, 'right')
    const expected = expectedNotes(twice, passage, 120)
    const { take } = simulatePlayer(expected, MACHINE, 1)
    const assessment = assessTake({ arrangement: twice, passage, take, mode: 'steady', bpm: 120 })
    expect(assessment.summary).toMatchObject({ notes: expected.length, right: expected.length, clean: true })
    expect(assessment.notes.map(note => note.time ?? 1)).toEqual(expected.map(note => note.time))
  })
})

describe('the live ear, whatever is played', () => {
  it('takes a right key for its own note only, says one thing of each stroke, and leaves no note unsettled', () => {
    fc.assert(
      fc.property(anyTake, take => {
        const ear = createLiveEar()
        ear.addRound({ round: 0, startMs: 0, expected: EXPECTED, beatMs: 600 })
        const last = new Map<number, { outcome: string; playedPitch: number | null }>()
        for (const note of take.notes) {
          const marks = ear.hear(note.pitch, note.onsetMs)
          expect(marks.length).toBeLessThanOrEqual(1)
          for (const mark of marks) {
            // A note that was right stays right, unless the player has taken up again and plays it anew.
            if (last.get(mark.index)?.outcome === 'right') expect(mark.outcome).toBe('right')
            expect(mark.outcome === 'right').toBe(EXPECTED[mark.index]!.pitch === note.pitch)
            last.set(mark.index, mark)
          }
        }
        for (const mark of ear.expireMissed(1e9)) {
          expect(last.has(mark.index)).toBe(false)
          last.set(mark.index, mark)
        }
        expect(last.size).toBe(EXPECTED.length)
      }),
      { numRuns: 300, seed: 9 },
    )
  })
})

describe('robust figures', () => {
  const line: Point[] = Array.from({ length: 41 }, (_, x) => [x, 3 + 0.5 * x])

  it('the slope holds with a quarter of the points far off (Theil 1950, Sen 1968: up to 29 %)', () => {
    const spoiled = line.map(([x, y]): Point => [x, x % 4 === 1 ? y + 500 : y])
    expect(slopeOf(spoiled)).toBeCloseTo(0.5, 6)
    expect(lineThrough(spoiled).intercept).toBeCloseTo(3, 6)
  })

  it('of long takes is found from some of the pairs', () => {
    const long = Array.from({ length: 3000 }, (_, x): Point => [x, 0.02 * x + (x % 7)])
    expect(Math.abs(slopeOf(long) - 0.02)).toBeLessThan(0.002)
  })

  it('the spread leaves outliers aside and is the standard deviation otherwise', () => {
    expect(robustSpread([1, 2, 3, 4, 5, 6, 7, 8, 9])).toBeCloseTo(2.739, 3)
    expect(robustSpread([1, 2, 3, 4, 5, 6, 7, 8, 9, 400])).toBeCloseTo(2.739, 3)
    expect(robustSpread([5])).toBe(0)
    expect(robustSpread([5, 5, 5])).toBe(0)
  })

  it('of nothing are nothing', () => {
    expect(median([])).toBe(0)
    expect(slopeOf([])).toBeNaN()
    expect(lineThrough([[1, 7]])).toEqual({ slope: 0, intercept: 7 })
  })
})
