import { sampleStandardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import type { ExpectedNote } from '../music/passage'
import { tempoSteps } from '../coach/tempo-steps'
import { CHARACTERS, MACHINE, type Character } from './habits'
import { simulatePlayer } from './simulate'

const LINE: ExpectedNote[] = Array.from({ length: 4000 }, (_, index) => ({
  id: `n${index}`,
  hand: 'right',
  bar: 1 + Math.floor(index / 4),
  beat: 1 + (index % 4),
  pitch: 60 + (index % 12),
  spelled: '',
  onsetMs: index * 500,
  durationMs: 500,
  grace: false,
  time: 1,
  eventMs: index * 500,
  quarterMs: 500,
  barIndex: Math.floor(index / 4),
  voice: '1',
}))

describe('a simulated player', () => {
  it('plays the same for the same seed, and otherwise not', () => {
    const habits = { ...MACHINE, jitterMs: 30, wrong: 0.1, extra: 0.1 }
    expect(simulatePlayer(LINE, habits, 8)).toEqual(simulatePlayer(LINE, habits, 8))
    expect(simulatePlayer(LINE, habits, 8).take).not.toEqual(simulatePlayer(LINE, habits, 9).take)
  })

  it('is as unsteady and as often wrong as asked, and tells the truth about it', () => {
    const { take, truth } = simulatePlayer(
      LINE,
      { ...MACHINE, jitterMs: 30, wrong: 0.05, missed: 0.04, extra: 0.03 },
      1,
    )
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
    const moves = simulatePlayer(LINE, { ...MACHINE, jitterMs: 30, jitterMemory: 0.6 }, 2).truth.notes.map(
      one => one.displacementMs!,
    )
    const product = (lag: number) => moves.slice(lag).reduce((sum, move, index) => sum + move * moves[index]!, 0)
    expect(product(1) / product(0)).toBeGreaterThan(0.5)
  })

  it('hesitates where it is told and catches up, or does not, and never hurries beyond what a hand can', () => {
    const moves = (ms: number, catchUp?: number) =>
      simulatePlayer(
        LINE.slice(0, 12),
        { ...MACHINE, hesitations: [{ bar: 2, beat: 1, ms, catchUp }] },
        1,
      ).truth.notes.map(one => one.displacementMs)
    expect(moves(400)).toEqual([0, 0, 0, 0, 400, 200, 100, 50, 25, 12.5, 6.25, 3.125])
    expect(moves(300, 0)).toEqual([0, 0, 0, 0, 300, 300, 300, 300, 300, 300, 300, 300])
    expect(moves(1000)).toEqual([0, 0, 0, 0, 1000, 800, 600, 400, 200, 100, 50, 25])
  })

  it('takes up again where it is told, and the truth is the last attempt', () => {
    const { take, truth } = simulatePlayer(
      LINE.slice(0, 12),
      { ...MACHINE, restarts: [{ bar: 2, beat: 3, eventsBack: 2, pauseMs: 700 }] },
      1,
    )
    expect(take.notes.map(note => note.pitch - 60)).toEqual([0, 1, 2, 3, 4, 5, 6, 4, 5, 6, 7, 8, 9, 10, 11])
    expect(truth.restarted).toEqual([4, 5, 6])
    expect(truth.notes.map(one => one.played)).toEqual([0, 1, 2, 3, 7, 8, 9, 10, 11, 12, 13, 14])
    expect(take.notes[7]!.onsetMs).toBe(take.notes[6]!.onsetMs + 700)
  })

  it('leaves bars out without a gap, swings, lags with the left hand, and runs faster or slower', () => {
    const skipped = simulatePlayer(LINE.slice(0, 12), { ...MACHINE, skips: [{ fromBar: 2, toBar: 2 }] }, 1)
    expect(skipped.take.notes.map(note => note.onsetMs)).toEqual([0, 500, 1000, 1500, 2000, 2500, 3000, 3500])
    expect(skipped.truth.notes.map(one => one.outcome[0]).join('')).toBe('rrrrmmmmrrrr')
    const eighths = LINE.slice(0, 4).map((one, index) => ({ ...one, beat: 1 + index / 2, quarterMs: 1000 }))
    expect(simulatePlayer(eighths, { ...MACHINE, swingRatio: 3 }, 1).take.notes.map(note => note.onsetMs)).toEqual([
      0, 750, 1000, 1750,
    ])
    const left = LINE.slice(0, 3).map(one => ({ ...one, hand: 'left' as const }))
    expect(
      simulatePlayer(left, { ...MACHINE, leftLateMs: 80, offsetMs: 10 }, 1).take.notes.map(note => note.onsetMs),
    ).toEqual([90, 590, 1090])
    expect(simulatePlayer(LINE.slice(0, 5), { ...MACHINE, rushPercent: 10 }, 1).take.notes.at(-1)!.onsetMs).toBe(1800)
    expect(simulatePlayer(LINE.slice(0, 5), { ...MACHINE, stretch: [2, 2] }, 1).take.notes.at(-1)!.onsetMs).toBe(4000)
  })

  it('every character plays the same line in its own way', () => {
    const line = LINE.slice(0, 400)
    const of = (character: Character) => simulatePlayer(line, CHARACTERS[character], 4)
    const rightShare = (character: Character) =>
      of(character).truth.notes.filter(one => one.outcome === 'right').length / line.length
    expect(rightShare('good')).toBe(1)
    expect(rightShare('lateLeft')).toBe(1)
    expect(rightShare('careful')).toBeLessThan(0.95)
    expect(rightShare('impatient')).toBeLessThan(0.97)
    const last = (character: Character) => of(character).take.notes.at(-1)!.onsetMs
    expect(last('impatient')).toBeLessThan(last('good') - 1000)
  })
})

describe('tempo steps', () => {
  it('rise evenly from well below to the target', () => {
    expect(tempoSteps(100)).toEqual([60, 70, 80, 90, 100])
    expect(tempoSteps(96).at(-1)).toBe(96)
  })
})
