import type { Arrangement } from './arrangement'
import { barsMarked, barsOfSpan } from './marked'
import type { ScoreSpan } from './passage'
import { earlier, later } from './quarters'

/** Whether the program plays before the player does: not at all, two bars after two bars, or all that is practised. */
export type TurnTaking = 'off' | 'whole' | 'two-bars'
/** Whose round it is, and of what. */
export interface TurnRound {
  turn: 'program' | 'player'
  stretch: ScoreSpan
}

const BARS = 2

/**
 * The round of the loop by its number from 0 when program and player take turns: the program first, then the player the
 * same. With two bars at a time the span is played through in pairs and then begun again.
 */
export function roundOfTurns(
  arrangement: Arrangement,
  stretch: ScoreSpan,
  turns: TurnTaking,
  round: number,
): TurnRound {
  if (turns === 'off') return { turn: 'player', stretch }
  const turn = round % 2 === 0 ? 'program' : 'player'
  if (turns === 'whole') return { turn, stretch }
  const [first, last] = barsOfSpan(arrangement, stretch)
  const bar = first + BARS * (Math.floor(round / 2) % Math.ceil((last - first + 1) / BARS))
  const own = barsMarked(arrangement, bar, Math.min(last, bar + BARS - 1))
  return { turn, stretch: { from: later(own.from, stretch.from), to: earlier(own.to, stretch.to) } }
}
