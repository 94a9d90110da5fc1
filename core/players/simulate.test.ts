import { sampleStandardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import type { ExpectedNote } from '../music/passage'
import { tempoSteps } from '../coach/tempo-steps'
import { MACHINE } from './habits'
import { simulatePlayer } from './simulate'

const LINE: ExpectedNote[] = Array.from({ length: 4000 }, (_, index) => ({
  id: `n${index}`, hand: 'right', bar: 1 + Math.floor(index / 4), beat: 1 + index % 4, pitch: 60 + index % 12, spelled: '', onsetMs: index * 500, durationMs: 500, grace: false, time: 1, momentMs: index * 500, quarterMs: 500, barIndex: Math.floor(index / 4), voice: '1',
}))

describe('a simulated player', () => {
  it('plays the same for the same seed, and otherwise not', () => {
    const habits = { ...MACHINE, jitterMs: 30, wrong: 0.1, extra: 0.1 }
    expect(simulatePlayer(LINE, habits, 8)).toEqual(simulatePlayer(LINE, habits, 8))
    expect(simulatePlayer(LINE, habits, 8).take).not.toEqual(simulatePlayer(LINE, habits, 9).take)
  })

  it('is as unsteady and as often wrong as asked, and tells the truth about it', () => {
    const { take, truth } = simulatePlayer(LINE, { ...MACHINE, jitterMs: 30, wrong: 0.05, missed: 0.04, extra: 0.03 }, 1)
    const right = truth.notes.filter(one => one.outcome === 'right')
    expect(sampleStandardDeviation(right.map(one => one.displacementMs!))).toBeCloseTo(30, -0.5)
    const share = (count: number) => count / LINE.length
    expect(share(truth.notes.filter(one => one.outcome === 'wrong').length)).toBeCloseTo(0.05, 1)
    expect(share(truth.notes.filter(one => one.outcome === 'missed').length)).toBeCloseTo(0.04, 1)
    expect(share(truth.extras.length)).toBeCloseTo(0.03, 1)
    truth.notes.forEach((one, index) => {
      if (one.played === null) return
      expect(take.notes[one.played]!.pitch === LINE[index]!.pitch).toBe(one.outcome === 'right')
    })
    expect(take.notes.length).toBe(truth.notes.filter(one => one.played !== null).length + truth.extras.length)
  })

  it('drifts about the beat: each displacement takes after the one before', () => {
    const moves = simulatePlayer(LINE, { ...MACHINE, jitterMs: 30, jitterMemory: 0.6 }, 2).truth.notes.map(one => one.displacementMs!)
    const product = (lag: number) => moves.slice(lag).reduce((sum, move, index) => sum + move * moves[index]!, 0)
    expect(product(1) / product(0)).toBeGreaterThan(0.5)
  })

  it('hesitates where it is told and catches up', () => {
    const { truth } = simulatePlayer(LINE.slice(0, 12), { ...MACHINE, hesitations: [{ bar: 2, beat: 1, ms: 400 }] }, 1)
    expect(truth.notes.map(one => one.displacementMs)).toEqual([0, 0, 0, 0, 400, 200, 100, 50, 25, 12.5, 6.25, 3.125])
  })
})

describe('tempo steps', () => {
  it('rise evenly from well below to the target', () => {
    expect(tempoSteps(100)).toEqual([60, 70, 80, 90, 100])
    expect(tempoSteps(96).at(-1)).toBe(96)
  })
})
