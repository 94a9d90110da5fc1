import type { Hand } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'
import type { Level } from '#core/patterns/editions'
import type { HandPattern } from '#core/patterns/hand-pattern'

/** What an edition is to be: a hand's pattern, a level, or another key. */
export type EditionMaking =
  | { kind: 'pattern'; hand: Hand; pattern: HandPattern; stretch?: ScoreSpan }
  | { kind: 'level'; level: Level; pattern?: HandPattern }
  | { kind: 'key'; halfSteps: number }
