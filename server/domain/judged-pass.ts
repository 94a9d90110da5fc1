import { writeTake } from '#core/formats/midi/write-take'
import { arrangementEnd, type Arrangement, type Hands } from '#core/music/arrangement'
import { isSameSpan, playedPassage, type ScoreSpan } from '#core/music/passage'
import { compare, ZERO } from '#core/music/quarters'
import { spanPlace, type SpanPlace } from '#core/music/stretch-place'
import { notesKey } from '#core/parts/notes-key'
import type { SentPass } from '#shared/utils/passes'
import type { JudgedPass } from '../database/schema/passes'
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
  place?: SpanPlace
  stretch: ScoreSpan
  hands: Hands
  /** Quarter notes a minute; of a free pass it is found. */
  bpm?: number
  startedAt: Date
  lengthMs: number
  /** The player has called the place hard. */
  isOwnSpot?: boolean
}

/** The part that a pass is sent for, and whose it is. */
export interface PassOwner {
  ownerId: string
  arrangementId: string
  part: { id: string; name: string; stretch: ScoreSpan }
}

/** Judges a pass as it was sent: everything that is kept of it. 'outside' when it does not lie in the song. */
export function judgeSentPass(
  arrangement: Arrangement,
  { ownerId, arrangementId, part }: PassOwner,
  { startedAt, strictness = 'normal', stretch: own, partId, ...played }: SentPass,
): JudgedPass | 'outside' {
  const stretch = own ?? part.stretch
  if (
    compare(stretch.from, ZERO) < 0 ||
    compare(stretch.to, stretch.from) <= 0 ||
    compare(stretch.to, arrangementEnd(arrangement)) > 0
  )
    return 'outside'
  const pass: PlayedPass = {
    ...played,
    ...(played.mode === 'free' ? { bpm: undefined } : {}),
    strictness,
    startedAt: new Date(startedAt),
    ownerId,
    arrangementId,
    partId,
    partName: part.name,
    ...(isSameSpan(stretch, part.stretch) ? {} : { place: spanPlace(arrangement, stretch) }),
    stretch,
    passage: playedPassage(arrangement, stretch, played.hands),
  }
  return judgedPass(arrangement, pass, judgePass(arrangement, pass))
}

/**
 * Whether a pass says something of notes that are practised: all that were played for a part; not a recording of a
 * whole song.
 */
const isCounted = ({ mode, partId }: Pick<PlayedPass, 'mode' | 'partId'>): boolean =>
  mode !== 'free' || partId !== undefined

/** A pass with what came of judging it, as it is kept. */
export function judgedPass(
  arrangement: Arrangement,
  played: PlayedPass,
  { assessment, columns }: ReturnType<typeof judgePass>,
): JudgedPass {
  const {
    id,
    ownerId,
    arrangementId,
    partId,
    partName,
    place,
    stretch,
    hands,
    mode,
    strictness,
    startedAt,
    lengthMs,
    offsetMs,
    take,
    isOwnSpot = false,
  } = played
  const bpm = played.bpm ?? assessment.score.bpm
  return {
    pass: {
      id,
      ownerId,
      arrangementId,
      partId,
      partName,
      place,
      fromN: stretch.from.n,
      fromD: stretch.from.d,
      toN: stretch.to.n,
      toD: stretch.to.d,
      hands,
      mode,
      bpm,
      startedAt,
      lengthMs: Math.round(lengthMs),
      strictness,
      keyboardDelayMs: Math.round(offsetMs),
      ownSpot: isOwnSpot,
      ...columns,
      ...(isCounted(played) ? { notesKey: notesKey(arrangement, stretch, hands) } : {}),
    },
    midi: writeTake(take, bpm),
    assessment,
  }
}
