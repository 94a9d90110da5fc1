import type { Stretch } from '#core/music/passage'
import { compare } from '#core/music/quarters'
import type { CoachedSong } from '../database/queries/coach'

/** The part that a stretch begins in: where its passes are kept. */
export function partOf({ plan: { parts } }: Pick<CoachedSong, 'plan'>, stretch: Stretch): string | undefined {
  return (parts.findLast(part => compare(part.from, stretch.from) <= 0 && compare(stretch.from, part.to) < 0) ?? parts[0])?.id
}
