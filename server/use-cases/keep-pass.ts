import { writeTake } from '#core/formats/midi/write-take'
import type { Arrangement, Hands } from '#core/music/arrangement'
import type { Stretch } from '#core/music/passage'
import type { StretchPlace } from '#core/music/stretch-place'
import { notesKey } from '#core/parts/notes-key'
import { insertPass, type JudgedPass } from '../database/queries/passes'
import type { Database } from '../utils/database'
import { judgePass, type PassToJudge } from './judge-pass'

/** A pass as it was played: of which arrangement, where in it, how. */
export interface PlayedPass extends PassToJudge {
  id: string
  ownerId: string
  arrangementId: string
  /** The part practised; none for a recording of a whole song. */
  partId?: string
  partName: string
  /** Where it lay when it was not the part. */
  place?: StretchPlace
  stretch: Stretch
  hands: Hands
  /** Quarter notes a minute; of a free pass it is found. */
  bpm?: number
  startedAt: Date
  lengthMs: number
  /** The player has called the place hard. */
  isOwnSpot?: boolean
}

/**
 * Judges a pass and keeps it with its take and assessment, all or nothing. A pass that is there already is left as it is. Gives false when the id
 * belongs to another player's pass.
 */
export const keepPass = async (db: Database, arrangement: Arrangement, played: PlayedPass): Promise<boolean> =>
  await insertPass(db, judgedPass(arrangement, played, judgePass(arrangement, played)))

/** A pass with what came of judging it, as it is kept. */
export function judgedPass(arrangement: Arrangement, played: PlayedPass, { assessment, columns }: ReturnType<typeof judgePass>): JudgedPass {
  const { id, ownerId, arrangementId, partId, partName, place, stretch, hands, mode, strictness, startedAt, lengthMs, offsetMs, take, isOwnSpot = false } = played
  const bpm = played.bpm ?? assessment.score.bpm
  return {
    pass: {
      id, ownerId, arrangementId, partId, partName, place, fromN: stretch.from.n, fromD: stretch.from.d, toN: stretch.to.n, toD: stretch.to.d, hands, mode, bpm, startedAt,
      lengthMs: Math.round(lengthMs), strictness, keyboardDelayMs: Math.round(offsetMs), ownSpot: isOwnSpot, ...columns, ...(mode === 'free' ? {} : { notesKey: notesKey(arrangement, stretch, hands) }),
    },
    midi: writeTake(take, bpm), assessment,
  }
}
