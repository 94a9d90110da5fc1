import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { tempoAt } from '../music/arrangement'
import { wholeBarSpan } from '../music/marked'
import { passageClock, wholePassage } from '../music/passage'
import { ZERO } from '../music/quarters'
import { backingPieces } from './backing'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const WRITTEN = tempoAt(FERRY, ZERO)
const lengthMs = passageClock(FERRY, wholePassage(FERRY, 'both')).lengthMs
/** A recording that begins after two seconds and is a fifth slower than written. */
const SLOWER = {
  points: [
    [0, 2],
    [lengthMs, 2 + (1.2 * lengthMs) / 1000],
  ] as [number, number][],
}
const STRETCH = { from: FERRY.bars[5]!.start, to: FERRY.bars[9]!.start }

describe('a recording to play along with', () => {
  it('goes through the bars of the loop, each where it is heard', () => {
    const { pieces, lengthSeconds } = backingPieces(FERRY, SLOWER, STRETCH, WRITTEN)
    const beforeMs = passageClock(FERRY, wholePassage(FERRY, 'both')).msAt(0, STRETCH.from)
    expect(pieces).toHaveLength(4)
    expect(pieces[0]!.atSeconds).toBe(0)
    expect(pieces[0]!.fromSeconds).toBeCloseTo(2 + (1.2 * beforeMs) / 1000, 6)
    for (const { rate } of pieces) expect(rate).toBeCloseTo(1.2, 6)
    expect(lengthSeconds).toBeCloseTo((16 * 60) / WRITTEN, 6)
  })

  it('is slowed with the loop: at half the tempo at half the rate', () => {
    for (const { rate } of backingPieces(FERRY, SLOWER, STRETCH, WRITTEN / 2).pieces) expect(rate).toBeCloseTo(0.6, 6)
  })

  it('each bar ends where the next begins, also where the recording sways', () => {
    const swaying = {
      points: Array.from({ length: 40 }, (_, at): [number, number] => [
        (at * lengthMs) / 39,
        1 + (at * lengthMs) / 39_000 + 0.3 * Math.sin(at),
      ]),
    }
    const { pieces, lengthSeconds } = backingPieces(FERRY, swaying, wholeBarSpan(FERRY), 60)
    expect(pieces.length).toBeGreaterThan(10)
    for (const [index, piece] of pieces.slice(0, -1).entries()) {
      const next = pieces[index + 1]!
      expect(piece.fromSeconds + (next.atSeconds - piece.atSeconds) * piece.rate).toBeCloseTo(next.fromSeconds, 6)
    }
    expect(pieces.at(-1)!.atSeconds).toBeLessThan(lengthSeconds)
    expect(Math.min(...pieces.map(({ rate }) => rate))).toBeGreaterThan(0)
  })
})
