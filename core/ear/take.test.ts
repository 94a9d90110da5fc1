import { expect, test } from 'vitest'
import { release, takeOf, type KeyStroke } from './take'

const stroke = (pitch: number, downMs: number): KeyStroke => ({ pitch, downMs, velocity: 70 })

test('the newest stroke of a key ends when it comes up, and a key that nobody pressed ends nothing', () => {
  const strokes = [stroke(60, 1000), stroke(64, 1010), stroke(60, 1400)]
  expect(release(strokes, 60, 1600)).toBe(true)
  expect(strokes.map(one => one.upMs)).toEqual([undefined, undefined, 1600])
  expect(release(strokes, 62, 1700)).toBe(false)
  expect(release(strokes, 60, 1800)).toBe(true)
  expect(strokes[0]!.upMs).toBe(1800)
})

test('a take is counted from its zero, in the order of its onsets; a key still down lasts until it is made', () => {
  const strokes = [{ ...stroke(64, 1500), upMs: 1700 }, stroke(60, 1500), { ...stroke(67, 990), upMs: 1100 }]
  expect(takeOf(strokes, [{ atMs: 1200, down: true }], { zeroMs: 1000, untilMs: 2000 })).toEqual({
    notes: [
      { onsetMs: -10, durationMs: 110, pitch: 67, velocity: 70 },
      { onsetMs: 500, durationMs: 500, pitch: 60, velocity: 70 },
      { onsetMs: 500, durationMs: 200, pitch: 64, velocity: 70 },
    ],
    pedals: [{ atMs: 200, down: true }],
  })
})
