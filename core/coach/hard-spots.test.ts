import { describe, expect, it } from 'vitest'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import { readMusicXml } from '../formats/musicxml/read'
import { quarters, toDecimal } from '../music/quarters'
import { seededChance } from '../players/randomness'
import { findHardSpots, growLoop, wilsonLowerBound, type PassTrace } from './hard-spots'

const { arrangement } = readMusicXml(
  bytesOf(
    pianoScore(
      Array.from({ length: 8 }, (_, index) => (index === 0 ? attributes() : '') + quarterNotes('C4 D4 E4 F4')),
    ),
  ),
)
const PART = { from: quarters(0), to: quarters(32) }
const GROUND = { arrangement, stretch: PART, onsets: Array.from({ length: 32 }, (_, beat) => quarters(beat)) }
const pass = (failing: (beat: number) => boolean): PassTrace => ({
  stretch: PART,
  failed: GROUND.onsets.filter((_, beat) => failing(beat)),
})
const spots = (passes: PassTrace[]) =>
  findHardSpots(GROUND, passes).map(
    spot =>
      `${toDecimal(spot.first)}–${toDecimal(spot.last)} loop ${toDecimal(spot.loop.from)}–${toDecimal(spot.loop.to)}`,
  )

describe('a hard spot', () => {
  it('is where mistakes gather, with a beat before and a beat after', () =>
    expect(spots([0, 1, 2, 3].map(() => pass(beat => beat === 9)))).toEqual(['9–9 loop 8–11']))
  it('one slip is none, nor are two in twelve', () => {
    expect(spots([pass(beat => beat === 9), pass(() => false), pass(() => false)])).toEqual([])
    expect(spots(Array.from({ length: 12 }, (_, index) => pass(beat => beat === 9 && index < 2)))).toEqual([])
  })
  it('neighbours are one spot', () =>
    expect(spots([0, 1, 2, 3].map(() => pass(beat => beat === 9 || beat === 10)))).toEqual(['9–10 loop 8–12']))
  it('at the edge of the part the loop stays inside it', () =>
    expect(spots([0, 1, 2, 3].map(() => pass(beat => beat === 0)))).toEqual(['0–0 loop 0–2']))
  it('the hardest comes first', () => {
    const found = findHardSpots(
      GROUND,
      Array.from({ length: 10 }, (_, index) => pass(beat => (beat === 5 && index % 2 === 0) || beat === 20)),
    )
    expect(found.map(spot => toDecimal(spot.first))).toEqual([20, 5])
  })
  it('what was hard and is not any more is forgotten', () =>
    expect(
      spots([
        ...Array.from({ length: 6 }, () => pass(beat => beat === 9)),
        ...Array.from({ length: 12 }, () => pass(() => false)),
      ]),
    ).toEqual([]))
  it('a player who slips anywhere has no spots: in 100 random histories hardly any', () => {
    let found = 0
    for (let seed = 1; seed <= 100; seed++) {
      const chance = seededChance(seed)
      found += findHardSpots(
        GROUND,
        Array.from({ length: 8 }, () => pass(() => chance.happens(0.04))),
      ).length
    }
    // 3,200 places: fewer than one in a hundred.
    expect(found).toBeLessThan(32)
  })
  it('is found when it fails in three of five passes among slips', () => {
    let hits = 0
    for (let seed = 1; seed <= 100; seed++) {
      const chance = seededChance(seed)
      const found = findHardSpots(
        GROUND,
        Array.from({ length: 8 }, () => pass(beat => chance.happens(beat === 13 ? 0.6 : 0.03))),
      )
      if (found.some(spot => toDecimal(spot.first) <= 13 && toDecimal(spot.last) >= 13)) hits++
    }
    // In about one of twenty such histories it failed only twice or less in eight passes.
    expect(hits).toBeGreaterThanOrEqual(90)
  })
})

describe('the loop after its gate', () => {
  it('grows by a beat, to the bars around it, to the part', () => {
    const sizes = [{ from: quarters(12), to: quarters(15) }]
    for (let next = growLoop(arrangement, PART, sizes[0]!); next; next = growLoop(arrangement, PART, next))
      sizes.push(next)
    expect(sizes.map(loop => `${toDecimal(loop.from)}–${toDecimal(loop.to)}`)).toEqual([
      '12–15',
      '11–16',
      '4–20',
      '0–32',
    ])
  })
  it('never leaves the part, and ends with it', () => {
    for (let from = 0; from < 31; from++) {
      let loop = { from: quarters(from), to: quarters(Math.min(32, from + 2)) }
      for (let steps = 0; steps < 10; steps++) {
        const next = growLoop(arrangement, PART, loop)
        if (!next) break
        expect(toDecimal(next.from)).toBeGreaterThanOrEqual(0)
        expect(toDecimal(next.to)).toBeLessThanOrEqual(32)
        expect(toDecimal(next.to) - toDecimal(next.from)).toBeGreaterThan(toDecimal(loop.to) - toDecimal(loop.from))
        loop = next
      }
      expect([toDecimal(loop.from), toDecimal(loop.to)]).toEqual([0, 32])
    }
  })
})

it("Wilson's interval: 1 of 1 is surely not always, 0 is surely nothing", () => {
  expect(wilsonLowerBound(0, 10)).toBeCloseTo(0, 6)
  expect(wilsonLowerBound(1, 1)).toBeLessThan(0.65)
  // Wilson 1927 at 95 %: 5 of 10 gives 0.2366 to 0.7634 (a standard worked example, unchecked).
  expect(wilsonLowerBound(5, 10, 1.96)).toBeCloseTo(0.2366, 3)
})
