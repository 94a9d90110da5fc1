import { partAt } from '#core/coach/stages'
import type { Stretch } from '#core/music/passage'
import type { CoachedSong } from '../use-cases/coached-song'

/** The part that a stretch begins in: where its passes are kept. */
export function partOf({ plan: { parts } }: Pick<CoachedSong, 'plan'>, stretch: Stretch): string | undefined {
  return (partAt(parts, stretch) ?? parts[0])?.id
}
