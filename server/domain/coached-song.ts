import type { SongInWork } from '#core/coach/session'

/** A song with its parts, the plan for it and the player's progress. */
export interface CoachedSong extends SongInWork {
  arrangementId: string
  targetDate: string | null
  targetShare: number
}
