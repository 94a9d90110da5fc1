import { effectScope, onScopeDispose, ref, shallowRef, type EffectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { judged, judgeHere } from '../../tests/material/judge'
import type { Hands } from '#core/music/arrangement'
import { expectedNotes, stretchPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { useOwnTime } from './useOwnTime'
import type { EndedPass } from './usePracticeLoop'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const STRETCH = { from: quarters(0), to: quarters(5) }
const EXPECTED = expectedNotes(arrangement, stretchPassage(STRETCH.from, STRETCH.to, 'right'), 60)

describe('practice in the player\'s own time', () => {
  let scope: EffectScope
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance', 'Date'] })
    Object.assign(globalThis, { ref, shallowRef, onScopeDispose })
    performance.mark ??= (() => {}) as never
    scope = effectScope()
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })

  function waiting(hands: Hands = 'right') {
    const passes: EndedPass[] = []
    const asked: number[][] = []
    const ownTime = scope.run(() => useOwnTime({
      arrangement, choice: () => ({ stretch: STRETCH, hands, bpm: 60, restBars: 0, strictness: 'normal', keyboardDelayMs: 0 }),
      waitsFor: pitches => asked.push([...pitches]), passEnded: pass => passes.push(pass), judge: judgeHere(arrangement),
    }))!
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
    const both = expectedNotes(arrangement, stretchPassage(STRETCH.from, STRETCH.to, 'both'), 60)
    const chord = both.findIndex((note, index) => both[index + 1]?.onsetMs === note.onsetMs && both[index + 1]!.pitch !== note.pitch)
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
    expect(passes[0]).toMatchObject({ mode: 'own-time', assessment: { mode: 'own-time', summary: { clean: true, right: EXPECTED.length } } })
    // A second from key to key, and the last key's length: the minute of thought before it is no playing.
    expect(passes[0]!.lengthMs).toBe((EXPECTED.length - 1) * 1000 + 250)
    expect(passes[0]!.take.notes[0]).toMatchObject({ onsetMs: 0, durationMs: 250 })
    expect(asked.length).toBeGreaterThanOrEqual(EXPECTED.length)
    expect(ownTime.isRunning.value).toBe(false)
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
