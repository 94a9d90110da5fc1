import type { EndedPass } from './practised'
import { effectScope, type EffectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { demoScore } from '../../../tests/material/demo'
import { judged, judgeHere } from '../../../tests/material/judge'
import type { Hands } from '#core/music/arrangement'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { useOwnTime } from './useOwnTime'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const STRETCH = { from: quarters(0), to: quarters(5) }
const EXPECTED = expectedNotes(arrangement, spanPassage(STRETCH.from, STRETCH.to, 'right'), 60)

describe("practice in the player's own time", () => {
  let scope: EffectScope
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance', 'Date'] })
    performance.mark ??= (() => {}) as never
    scope = effectScope()
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })

  function waiting(hands: Hands = 'right', goesOn?: () => boolean) {
    const passes: EndedPass[] = []
    const asked: number[][] = []
    const ownTime = scope.run(() =>
      useOwnTime({
        arrangement,
        choice: () => ({ stretch: STRETCH, hands, bpm: 60, restBars: 0, strictness: 'normal', keyboardDelayMs: 0 }),
        waitsFor: pitches => asked.push([...pitches]),
        passEnded: pass => passes.push(pass),
        goesOn,
        judge: judgeHere(arrangement),
      }),
    )!
    const strike = (pitch: number) => {
      ownTime.hear({ bytes: [0x90, pitch, 70], atMs: performance.now() })
      vi.advanceTimersByTime(250)
      ownTime.hear({ bytes: [0x80, pitch, 0], atMs: performance.now() })
      vi.advanceTimersByTime(750)
    }
    return { ownTime, passes, asked, strike }
  }

  it('asks once for the keys of a moment, however many they are and one after the other', () => {
    const { ownTime, asked, strike } = waiting('both')
    const both = expectedNotes(arrangement, spanPassage(STRETCH.from, STRETCH.to, 'both'), 60)
    const chord = both.findIndex(
      (note, index) => both[index + 1]?.onsetMs === note.onsetMs && both[index + 1]!.pitch !== note.pitch,
    )
    ownTime.start()
    for (const note of both.slice(0, chord + 1)) strike(note.pitch)
    const before = asked.length
    expect(ownTime.wanted.value).toEqual([both[chord + 1]!.pitch])
    strike(both[chord + 1]!.pitch)
    expect(asked.length).toBe(before + 1)
  })

  it('waits for each key, shows which, and judges the pass when all have come', async () => {
    const { ownTime, passes, asked, strike } = waiting()
    ownTime.start()
    expect(ownTime.wanted.value).toEqual([EXPECTED[0]!.pitch])
    vi.advanceTimersByTime(60_000)
    EXPECTED.forEach((note, index) => {
      expect(ownTime.due.value).toEqual([index])
      strike(note.pitch)
    })
    vi.advanceTimersByTime(1000)
    await judged()
    expect(passes).toHaveLength(1)
    expect(passes[0]).toMatchObject({
      mode: 'own-time',
      assessment: { mode: 'own-time', summary: { clean: true, right: EXPECTED.length } },
    })
    // A second from key to key, and the last key's length: the minute of thought before it is no playing.
    expect(passes[0]!.lengthMs).toBe((EXPECTED.length - 1) * 1000 + 250)
    expect(passes[0]!.take.notes[0]).toMatchObject({ onsetMs: 0, durationMs: 250 })
    expect(asked.length).toBeGreaterThanOrEqual(EXPECTED.length)
    // The next pass waits already, with the marks of this one until its first key.
    expect([ownTime.isRunning.value, ownTime.due.value, ownTime.isBegun(), ownTime.marks.value.size]).toEqual([
      true,
      [0],
      false,
      EXPECTED.length,
    ])
  })

  it('marks a wrong key where it was struck and goes on waiting; the right key puts it right', async () => {
    const { ownTime, passes, strike } = waiting()
    ownTime.start()
    strike(EXPECTED[0]!.pitch + 1)
    expect(ownTime.marks.value.get(0)).toMatchObject({ outcome: 'wrong', playedPitch: EXPECTED[0]!.pitch + 1 })
    for (const note of EXPECTED) strike(note.pitch)
    expect(ownTime.marks.value.get(0)).toMatchObject({ outcome: 'right' })
    vi.advanceTimersByTime(1000)
    await judged()
    expect(passes[0]!.assessment.summary).toMatchObject({ clean: false, extra: 1 })
  })

  it('hears the next pass from its first key, however soon it comes, and gives each its own keys', async () => {
    const { ownTime, passes } = waiting()
    ownTime.start()
    const notes = [...EXPECTED, ...EXPECTED]
    notes.forEach(note => {
      ownTime.hear({ bytes: [0x90, note.pitch, 70], atMs: performance.now() })
      vi.advanceTimersByTime(120)
      ownTime.hear({ bytes: [0x80, note.pitch, 0], atMs: performance.now() })
      vi.advanceTimersByTime(10)
    })
    vi.advanceTimersByTime(1000)
    await judged()
    expect(
      passes.map(pass => [pass.assessment.summary.clean, pass.assessment.summary.extra, pass.take.notes.length]),
    ).toEqual([
      [true, 0, EXPECTED.length],
      [true, 0, EXPECTED.length],
    ])
    expect(passes.flatMap(pass => pass.take.notes.map(note => Math.round(note.durationMs)))).toEqual(
      notes.map(() => 120),
    )
  })

  it('waits for what is to come where something else may, and goes on when it is told to', async () => {
    const { ownTime, passes, strike } = waiting('right', () => false)
    ownTime.start()
    for (const note of EXPECTED) strike(note.pitch)
    expect([ownTime.isRunning.value, ownTime.due.value]).toEqual([true, []])
    vi.advanceTimersByTime(1000)
    await judged()
    expect(passes.map(pass => [pass.assessment.summary.clean, pass.take.notes.at(-1)!.durationMs])).toEqual([
      [true, 250],
    ])
    ownTime.goOn()
    expect(ownTime.due.value).toEqual([0])
  })

  it('does not take the last keys, struck once more, for the beginning of the next pass', async () => {
    const { ownTime, strike } = waiting()
    ownTime.start()
    for (const note of EXPECTED.slice(0, -1)) strike(note.pitch)
    for (const times of [1, 2])
      ownTime.hear({ bytes: [0x90, EXPECTED.at(-1)!.pitch, 70 + times], atMs: performance.now() })
    if (EXPECTED.at(-1)!.pitch === EXPECTED[0]!.pitch) throw new Error('this part begins as it ends')
    expect(ownTime.isBegun()).toBe(false)
  })

  it('what is not played to its end is no pass, and can be begun anew', () => {
    const { ownTime, passes, strike } = waiting()
    ownTime.start()
    strike(EXPECTED[0]!.pitch)
    ownTime.stop()
    strike(EXPECTED[1]!.pitch)
    expect([passes, ownTime.wanted.value]).toEqual([[], []])
    ownTime.start()
    expect(ownTime.due.value).toEqual([0])
  })
})
