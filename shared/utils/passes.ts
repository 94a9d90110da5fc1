import type { Strictness } from '#core/ear/parameters'
import type { Take } from '#core/ear/take'
import type { Hands } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'

/** A pass as a page sends it to be kept (POST /api/passes). Times in ms; `bpm` in quarter notes a minute. */
export interface SentPass {
  /** Made where it was played: sent twice it is kept once. */
  id: string
  /** The part it is of, or the first of those it goes over. */
  partId: string
  hands: Hands
  mode: 'steady' | 'own-time' | 'free'
  /** Where it lay, if it was not the part: a place in it, a join, the song. */
  stretch?: ScoreSpan
  /** The player has called the place hard. */
  isOwnSpot?: boolean
  /** Of a free pass: about what it was; it is measured where it is judged. */
  bpm: number
  /** ISO 8601. */
  startedAt: string
  lengthMs: number
  /** How late the keyboard answers, taken off every key. */
  offsetMs: number
  strictness?: Strictness
  take: Take
}
