import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { barsMarked } from './marked'
import { roundOfTurns } from './in-turns'
import { quarters } from './quarters'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement

describe('taking turns', () => {
  it('the program plays all of it, then the player, again and again', () => {
    const stretch = barsMarked(FERRY, 1, 4)
    expect([0, 1, 2, 3].map(round => roundOfTurns(FERRY, stretch, 'whole', round))).toEqual(
      ['program', 'player', 'program', 'player'].map(turn => ({ turn, stretch })),
    )
    expect(roundOfTurns(FERRY, stretch, 'off', 0)).toEqual({ turn: 'player', stretch })
  })

  it('goes through it two bars at a time; five bars end with one, and begin anew', () => {
    const rounds = Array.from(
      { length: 8 },
      (_, round) => roundOfTurns(FERRY, barsMarked(FERRY, 1, 5), 'two-bars', round).stretch,
    )
    expect(rounds).toEqual(
      [
        [1, 2],
        [1, 2],
        [3, 4],
        [3, 4],
        [5, 5],
        [5, 5],
        [1, 2],
        [1, 2],
      ].map(([first, last]) => barsMarked(FERRY, first!, last!)),
    )
  })

  it('keeps to the edges of what is practised: from a pickup on, up to a beat', () => {
    const stretch = { from: quarters(0), to: quarters(16) }
    expect(roundOfTurns(FERRY, stretch, 'two-bars', 0).stretch.from).toEqual(quarters(0))
    const last = roundOfTurns(FERRY, stretch, 'two-bars', 4).stretch
    expect(last.to).toEqual(quarters(16))
  })
})
