import type { PassResult } from './evidence'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { seededChance } from '../players/randomness'
import { stepsWithSlower, tempoSteps } from './tempo-steps'
import { climb, resultOf, startLadder, type LadderDecision } from './ladder'

const rule = { gate: 3, steps: [60, 70, 80, 90, 100] }
const after = (results: PassResult[], step = 0) =>
  results.reduce<LadderDecision[]>(
    (all, result) => [...all, climb(rule, all.at(-1)?.state ?? startLadder(step), result)],
    [],
  )
const moves = (results: PassResult[], step = 0) => after(results, step).map(one => `${one.move} ${one.bpm}`)

describe('the tempo ladder', () => {
  it('goes up when the gate is met, and not before', () => {
    expect(moves(['clean', 'clean', 'clean', 'clean'])).toEqual(['again 60', 'again 60', 'up 70', 'again 70'])
    expect(after(['clean', 'clean', 'clean'])[2]!.because).toEqual({ kind: 'gate-up', of: 3, from: 60, to: 70 })
  })
  it('counts in a row: a pass that is nearly clean begins the count anew, but costs no step', () => {
    expect(moves(['clean', 'clean', 'near', 'clean', 'clean', 'clean'])).toEqual([
      'again 60',
      'again 60',
      'again 60',
      'again 60',
      'again 60',
      'up 70',
    ])
  })
  it('goes down after two misses in a row, not after one', () => {
    expect(moves(['missed', 'clean', 'missed', 'missed'], 2)).toEqual(['again 80', 'again 80', 'again 80', 'down 70'])
  })
  it('arrives at the top and stays there', () =>
    expect(moves(['clean', 'clean', 'clean', 'clean'], 4)).toEqual(['again 100', 'again 100', 'top 100', 'top 100']))
  it('after three falls from one step changes something, each time something else, and says so', () => {
    const fallAndReturn: PassResult[] = ['missed', 'missed', 'clean', 'clean', 'clean']
    const story = after([...fallAndReturn, ...fallAndReturn, 'missed', 'missed'], 2)
    expect(story.at(-1)).toMatchObject({ move: 'help', help: 'smaller-loop', bpm: 80 })
    expect(story.at(-1)!.because).toEqual({ kind: 'help', help: 'smaller-loop' })
    let state = story.at(-1)!.state
    const helps: string[] = []
    for (let pass = 0; pass < 60; pass++) {
      const next = climb(rule, state, state.step === 2 ? 'missed' : 'clean')
      if (next.help) helps.push(next.help)
      state = next.state
    }
    expect(helps.slice(0, 3)).toEqual(['slower', 'own-time', 'own-time'])
  })
  it('at the slowest step there is nothing below: it says so once, then changes something', () => {
    expect(after(['missed', 'missed', 'missed', 'missed']).map(one => one.move)).toEqual([
      'again',
      'again',
      'again',
      'help',
    ])
  })
  it('goes up only after as many clean passes in a row as the gate asks, and down only after misses, whatever happens', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom<PassResult>('clean', 'near', 'missed'), { minLength: 1, maxLength: 200 }),
        fc.integer({ min: 0, max: 4 }),
        (results, step) => {
          after(results, step).forEach(({ move, state, bpm }, pass) => {
            if (move === 'up' || move === 'top')
              expect(results.slice(pass - rule.gate + 1, pass + 1)).toEqual(
                Array.from({ length: rule.gate }, () => 'clean'),
              )
            if (move === 'down') expect(results[pass]).not.toBe('clean')
            expect(rule.steps.indexOf(bpm)).toBe(state.step)
          })
        },
      ),
      { numRuns: 200, seed: 5 },
    )
  })
  it('never sticks: somebody who cannot do a tempo is not left there without something else', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const chance = seededChance(seed)
      let state = startLadder(2)
      let still = 0
      for (let pass = 0; pass < 400; pass++) {
        // Somebody who cannot do 80: nearly always a miss there, clean below.
        const result: PassResult = state.step >= 2 ? (chance.happens(0.9) ? 'missed' : 'near') : 'clean'
        const next = climb(rule, state, result)
        still = next.move === 'again' ? still + 1 : 0
        expect(still).toBeLessThan(12)
        state = next.state
      }
    }
  })
  it('by evidence goes up two steps where nothing was missed but for a slip, and one after a miss or below what was fallen from', () => {
    const sure = { ...rule, gate: 'sure' as const }
    const run = (results: PassResult[]) =>
      results
        .reduce<LadderDecision[]>(
          (all, result) => [...all, climb(sure, all.at(-1)?.state ?? startLadder(), result)],
          [],
        )
        .map(one => `${one.move} ${one.bpm}`)
    expect(run(['clean', 'clean', 'clean'])).toEqual(['up 80', 'up 100', 'top 100'])
    expect(run(['near', 'clean', 'clean'])).toEqual(['again 60', 'up 80', 'up 100'])
    expect(run(['missed', 'clean', 'clean', 'clean'])).toEqual(['again 60', 'again 60', 'up 70', 'up 90'])
    expect(run(['clean', 'missed', 'missed', 'clean', 'clean'])).toEqual([
      'up 80',
      'again 80',
      'down 70',
      'up 80',
      'up 100',
    ])
  })
  it('takes a pass for nearly clean at 95 of 100 right notes', () => {
    expect([
      resultOf({ clean: true, right: 20, notes: 20 }),
      resultOf({ clean: false, right: 19, notes: 20 }),
      resultOf({ clean: false, right: 18, notes: 20 }),
      resultOf({ clean: false, right: 0, notes: 0 }),
    ]).toEqual(['clean', 'near', 'missed', 'missed'])
  })
})

describe('tempo steps', () => {
  it('are whole beats of the meter: dotted quarters in 6/8', () =>
    expect(
      tempoSteps(120, 66, 4, 1.5)
        .slice(0, 3)
        .every(bpm => Number.isInteger(bpm / 1.5)),
    ).toBe(true))
  it('begin no slower than a beat is carried (40 a minute, common practice), and go on below it as far as its halves are', () => {
    const { steps, start } = stepsWithSlower(60, 27, 5)
    expect(steps[start]).toBe(40)
    expect(Math.min(...steps)).toBeGreaterThanOrEqual(20)
    // A song that is slower than that begins at its tempo.
    expect(stepsWithSlower(36, 20, 5).steps.slice(2)).toEqual([36, 36, 36, 36, 36])
  })
})
