import { describe, expect, it } from 'vitest'
import { reasonText } from '../words/coach'
import { demoScore } from '../../tests/material/demo'
import { add, quarters, subtract, toDecimal } from '../music/quarters'
import { notesKey } from '../parts/notes-key'
import {
  afterPass,
  scoreRange,
  GOOD_ENOUGH,
  MENDING,
  nextPassOf,
  startStage,
  type StageProgress,
  type ScoreRange,
} from './stage-progress'
import type { PastPass } from './pass'
import { coachSettings, type CoachSettings } from './settings'

const { arrangement } = demoScore('lantern-ferry.musicxml')
/** The pickup to bar 4, beat 3. */
const PART = { from: quarters(0), to: quarters(16) }
const TEMPOS = { targetBpm: 100, startBpm: 60 }
const rangeWith = (own: Partial<CoachSettings> = {}, hands: 'right' | 'both' = 'right'): ScoreRange =>
  scoreRange(
    arrangement,
    PART,
    hands,
    notesKey(arrangement, PART, hands),
    TEMPOS,
    coachSettings({ school: 'turns', gate: 3, ownTimeGate: 2, ...own }),
  )

let clock = 0
/** A pass of what the stage asks for, failing at some moments (by number in the part). */
function played(
  range: ScoreRange,
  state: StageProgress,
  failedMoments: number[] = [],
  own: Partial<PastPass> = {},
): PastPass {
  const { stretch, mode, bpm } = nextPassOf(range, state)
  const failed = failedMoments.map(index => range.onsets[index]!)
  const notes = range.onsets.length
  return {
    key: notesKey(arrangement, stretch, range.hands),
    stretch,
    hands: range.hands,
    mode,
    bpm,
    clean: failed.length === 0,
    right: notes - failed.length,
    notes,
    failed,
    atMs: (clock += 20_000),
    lengthMs: 15_000,
    ...own,
  }
}
const play = (range: ScoreRange, state: StageProgress, failures: number[][]): StageProgress =>
  failures.reduce((now, failed) => afterPass(range, now, played(range, now, failed)), state)
const CLEAN: number[] = []

describe('a stage', () => {
  const range = rangeWith()
  it("begins in the player's own time and goes to the click when the keys are known", () => {
    const start = startStage(range)
    expect(nextPassOf(range, start)).toMatchObject({ mode: 'own-time', isSpot: false })
    expect(nextPassOf(range, play(range, start, [CLEAN, [3], CLEAN])).mode).toBe('own-time')
    expect(nextPassOf(range, play(range, start, [CLEAN, CLEAN]))).toMatchObject({ mode: 'steady', bpm: 60 })
  })
  it('looks for its tempo first, then asks for so many clean in a row', () => {
    const known = play(range, startStage(range), [CLEAN, CLEAN])
    const found = play(range, known, [CLEAN, CLEAN, [2, 5]])
    expect(nextPassOf(range, found)).toMatchObject({ bpm: 80, mode: 'steady' })
    const met = play(range, found, [CLEAN, CLEAN, CLEAN])
    expect(met.reachedBpm).toBe(80)
    expect(nextPassOf(range, met).bpm).toBe(90)
    expect(met.because).toEqual({ kind: 'gate-up', of: 3, from: 80, to: 90 })
    // Two in own time, two that only looked for the tempo, one that failed, three clean.
    expect(met.gates).toMatchObject([{ bpm: 80, passes: 8 }])
  })
  it('where it is slow first counts at the slow tempo and looks for no other', () => {
    const slow = rangeWith({ school: 'slow-first' })
    const found = play(slow, startStage(slow), [CLEAN, CLEAN, CLEAN])
    expect(nextPassOf(slow, found)).toMatchObject({ bpm: 60, because: { kind: 'in-a-row', count: 1, of: 3 } })
    expect(play(slow, found, [CLEAN, CLEAN]).reachedBpm).toBe(60)
  })
  it('follows the player who chooses another tempo, and one who leaves own time out', () => {
    const start = startStage(range)
    const chosen = afterPass(range, start, played(range, start, [], { mode: 'steady', bpm: 90 }))
    expect(chosen.ownTime.isDone).toBe(true)
    expect(nextPassOf(range, chosen)).toMatchObject({ mode: 'steady', bpm: 100 })
    // Slower than the slowest step: good practice, and no step of the stairs.
    const slow = afterPass(range, chosen, played(range, chosen, [], { bpm: 20 }))
    expect(nextPassOf(range, slow).bpm).toBe(100)
  })
  it('does not count other notes, but counts the same notes elsewhere', () => {
    const start = startStage(range)
    const elsewhere = { from: add(PART.from, quarters(200)), to: add(PART.to, quarters(200)) }
    expect(afterPass(range, start, played(range, start, [], { key: 'other', stretch: elsewhere }))).toBe(start)
    const twin = afterPass(range, start, {
      ...played(range, start, [4]),
      stretch: elsewhere,
      failed: [add(range.onsets[4]!, quarters(200))],
    })
    expect(twin.traces[0]).toEqual({ stretch: PART, failed: [range.onsets[4]!] })
  })
})

describe('a hard spot on the way', () => {
  const range = rangeWith()
  const known = play(range, startStage(range), [CLEAN, CLEAN])
  const hard = play(range, known, [[6], [6], [6]])
  it('is cut out when one place fails again and again, with a beat before and after', () => {
    const next = nextPassOf(range, hard)
    expect(next.isSpot).toBe(true)
    expect(next.because.kind).toBe('spot')
    const spot = toDecimal(range.onsets[6]!)
    expect(toDecimal(next.stretch.from)).toBeLessThan(spot)
    expect(toDecimal(next.stretch.to)).toBeGreaterThan(spot)
    expect(toDecimal(subtract(next.stretch.to, next.stretch.from))).toBeLessThanOrEqual(4)
  })
  it('grows after its gate until it is the part, and the place is remembered as mended', () => {
    let state = hard
    const sizes: number[] = []
    for (let pass = 0; pass < 30 && nextPassOf(range, state).isSpot; pass++) {
      const { stretch } = nextPassOf(range, state)
      sizes.push(toDecimal(subtract(stretch.to, stretch.from)))
      state = play(range, state, [CLEAN])
    }
    expect([...new Set(sizes)]).toEqual([...new Set(sizes)].sort((a, b) => a - b))
    expect(new Set(sizes).size).toBeGreaterThanOrEqual(2)
    expect(state.mended).toHaveLength(1)
    expect(nextPassOf(range, state)).toMatchObject({ isSpot: false, mode: 'steady' })
  })
  it('becomes slower, then waits for the keys; and is left after a while, however it goes', () => {
    let state = hard
    const seen: string[] = []
    for (let pass = 0; pass < 60 && nextPassOf(range, state).isSpot; pass++) {
      const { mode, bpm } = nextPassOf(range, state)
      seen.push(`${mode} ${bpm}`)
      state = play(range, state, [[6]])
    }
    expect(seen.length).toBeLessThanOrEqual(MENDING.mostPasses)
    expect(seen.some(one => one.startsWith('own-time'))).toBe(true)
    const tempos = seen.filter(one => one.startsWith('steady')).map(one => Number(one.split(' ')[1]))
    expect(tempos.at(-1)).toBeLessThan(tempos[0]!)
    expect(state.because.kind).toBe('spot-no-better')
  })
  it('may be called so by the player, and is mended like one that was found', () => {
    const place = { from: quarters(4), to: quarters(8) }
    const own = (isOwnSpot: boolean): PastPass => ({
      ...played(range, known),
      key: notesKey(arrangement, place, 'right'),
      stretch: place,
      bpm: 52,
      isOwnSpot,
    })
    expect(nextPassOf(range, afterPass(range, known, own(false))).isSpot).toBe(false)
    let state = afterPass(range, known, own(true))
    expect(nextPassOf(range, state)).toMatchObject({ isSpot: true, stretch: place, mode: 'steady', bpm: 52 })
    for (let pass = 0; pass < 30 && nextPassOf(range, state).isSpot; pass++) state = play(range, state, [CLEAN])
    expect(state.mended).toHaveLength(1)
    // Of another hand, or beyond the part, it is none of this stage's.
    expect(nextPassOf(range, afterPass(range, known, { ...own(true), hands: 'left' })).isSpot).toBe(false)
    expect(
      nextPassOf(range, afterPass(range, known, { ...own(true), stretch: { from: quarters(4), to: quarters(20) } }))
        .isSpot,
    ).toBe(false)
  })
  it('one slip makes none', () =>
    expect(nextPassOf(range, play(range, known, [[6], CLEAN, [2], CLEAN, [9], CLEAN])).isSpot).toBe(false))
})

describe('never stuck', () => {
  it('what is nearly right for long enough is let go, and that is said', () => {
    const range = rangeWith({ gate: 10 })
    let state = play(range, startStage(range), [CLEAN, CLEAN])
    // A clean one now and then, and one slip at another place each time.
    for (let pass = 0; pass < GOOD_ENOUGH.passes + 40 && state.reachedBpm === 0; pass++)
      state = play(
        range,
        state,
        [pass % 3 === 0 ? CLEAN : [pass % 11]].map(failed => failed.slice(0, pass % 2 ? 1 : 0)),
      )
    expect(state.because.kind).toBe('good-enough')
    expect(state.gates[0]!.passes).toBeGreaterThanOrEqual(GOOD_ENOUGH.passes)
  })
  it('together, each hand is asked for alone once more before anything slower', () => {
    const range = rangeWith({ ownTimeGate: 0 }, 'both')
    let state = startStage(range)
    for (let pass = 0; pass < 200 && !state.oneHand; pass++)
      state = play(range, state, [[...range.onsets.keys()].filter(one => one % 2 === 0)])
    expect(state.oneHand).toEqual({ right: 3, left: 3 })
    const alone = (hands: 'right' | 'left', clean: boolean): PastPass => ({
      ...played(range, state),
      key: hands,
      hands,
      clean,
    })
    state = afterPass(range, state, alone('left', true))
    expect(state.oneHand).toEqual({ right: 3, left: 0 })
    for (let tries = 0; tries < 3; tries++) state = afterPass(range, state, alone('right', false))
    expect(state.oneHand).toBeUndefined()
  })
})

describe('own time that does not end', () => {
  it('with one wrong key each time goes on to the click, with many cuts out the hardest place, of both hands takes each alone', () => {
    const one = rangeWith()
    const nearly = play(one, startStage(one), [[3], [5], [3], [3]])
    expect(nextPassOf(one, nearly)).toMatchObject({ mode: 'steady' })
    expect(nearly.because.kind).toBe('keys-nearly-known')
    const lost = play(
      one,
      startStage(one),
      Array.from({ length: 4 }, () => [3, 6, 9]),
    )
    expect(nextPassOf(one, lost)).toMatchObject({ mode: 'own-time', isSpot: true })
    const both = rangeWith({}, 'both')
    expect(
      play(
        both,
        startStage(both),
        Array.from({ length: 4 }, () => [3, 6, 9]),
      ).oneHand,
    ).toEqual({ right: 3, left: 3 })
  })
})

describe('what the coach says is what it does', () => {
  const small = (to: number) =>
    scoreRange(
      arrangement,
      { from: quarters(1), to: quarters(1 + to) },
      'right',
      notesKey(arrangement, { from: quarters(1), to: quarters(1 + to) }, 'right'),
      TEMPOS,
      coachSettings({ gate: 3, ownTimeGate: 1 }),
    )
  /** Everything said on the way of somebody who fails at some moments, with whether a place was cut out. */
  function said(range: ScoreRange, failing: (pass: number) => number[]) {
    let state = startStage(range)
    const words: { because: string; isSpot: boolean; mode: string }[] = []
    for (let pass = 0; pass < 150; pass++) {
      const next = nextPassOf(range, state)
      words.push({ ...next, because: reasonText(next.because) })
      state = play(range, state, [next.mode === 'own-time' ? CLEAN : failing(pass)])
    }
    return words
  }
  it('in two bars the hard place is cut out when the tempo was lost several times', () => {
    const words = said(small(8), () => [3])
    const alone = words.filter(one => /just (this|the hard) spot/.test(one.because))
    expect(alone.length).toBeGreaterThan(0)
    expect(alone.every(one => one.isSpot)).toBe(true)
  })
  it('of a bar nothing can be cut out, and nothing is promised: slower, then own time', () => {
    const words = said(small(4), () => [2])
    expect(words.some(one => one.isSpot || /just (this|the hard) spot/.test(one.because))).toBe(false)
    expect(words.some(one => one.because.includes('much slower'))).toBe(true)
    expect(words.slice(2).some(one => one.mode === 'own-time')).toBe(true)
  })
  it('a place alone is never named without being asked for, wherever it fails', () => {
    for (const beats of [4, 6, 8, 12, 15]) {
      for (const failing of [
        () => [0],
        (pass: number) => [pass % 3],
        (pass: number) => (pass % 5 === 0 ? CLEAN : [1, 3]),
      ]) {
        expect(
          said(small(beats), failing)
            .filter(one => /just (this|the hard) spot/.test(one.because))
            .every(one => one.isSpot),
          `${beats} beats`,
        ).toBe(true)
      }
    }
  })
})
