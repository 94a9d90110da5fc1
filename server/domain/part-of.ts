import { partAt } from '#core/coach/stages'
import type { ScoreSpan } from '#core/music/passage'
import type { CoachedSong } from './coached-song'

/** The part that a stretch begins in: where its passes are kept. */
export function partOf({ plan: { parts } }: Pick<CoachedSong, 'plan'>, stretch: ScoreSpan): string | undefined {
  return (partAt(parts, stretch) ?? parts[0])?.id
}
