import type { Quarters } from '#core/music/quarters'
import type { Take } from '#core/ear/take'
import type { Assessment } from '#core/ear/assessment'
import type { ScoreSpan } from '#core/music/passage'
import type { ClickChoice } from '#core/music/click'
import type { Strictness } from '#core/ear/parameters'
import type { Hands, Arrangement } from '#core/music/arrangement'

/**
 * `keyboardDelayMs`: the keyboard's delay, subtracted from every key; `restBars`: empty bars after each round; `turn`:
 * whose round it is, the player's by default.
 */
export interface LoopChoice {
  stretch: ScoreSpan
  hands: Hands
  bpm: number
  restBars: number
  strictness: Strictness
  keyboardDelayMs: number
  click?: ClickChoice
  turn?: 'program' | 'player'
}

/** A pass that was played to its end. */
export interface EndedPass extends LoopChoice {
  mode: 'steady' | 'own-time' | 'free'
  take: Take
  assessment: Assessment
  failed: readonly Quarters[]
  lengthMs: number
  endedAt: Date
}

/** A part as the Stand is given it: its place in the song, and the score to draw. */
export interface StandPart {
  id: string
  name: string
  stretch: ScoreSpan
  song: { id: string; title: string }
  arrangementId: string
  arrangement: Arrangement
  musicXml: string
  roleParts: string[]
}
