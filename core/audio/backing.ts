import type { Arrangement } from '../music/arrangement'
import { passageClock, playedPassage, wholePassage, type ScoreSpan } from '../music/passage'
import { compare, earlier, later } from '../music/quarters'
import { secondsAt, type RecordingAlignment } from './align-recording'

/**
 * A stretch of a recording as it is to be played: from a moment of the loop on (s), from where in the recording (s),
 * and at which rate (2: twice as fast).
 */
export interface BackingPiece {
  atSeconds: number
  fromSeconds: number
  rate: number
}

/**
 * How a recording is played along with a stretch of the song at a tempo (quarter notes a minute): each of its bars
 * begins where the loop's begins, and is as long. In playing order where the stretch is the whole song; otherwise where
 * it is heard first. Pieces in order, the first at 0.
 */
export function backingPieces(
  arrangement: Arrangement,
  alignment: Pick<RecordingAlignment, 'points'>,
  stretch: ScoreSpan,
  bpm: number,
): { pieces: BackingPiece[]; lengthSeconds: number } {
  const whole = wholePassage(arrangement, 'both')
  const recorded = passageClock(arrangement, whole)
  const passage = playedPassage(arrangement, stretch, 'both')
  const clock = passageClock(arrangement, passage, bpm)
  const marks = passage.stretches.flatMap((own, index) => {
    const at =
      passage.stretches.length > 1
        ? index
        : Math.max(
            0,
            whole.stretches.findIndex(one => compare(one.from, own.from) <= 0 && compare(one.to, own.from) > 0),
          )
    const lines = arrangement.bars
      .map(bar => bar.start)
      .filter(start => compare(start, own.from) > 0 && compare(start, own.to) < 0)
    return [own.from, ...lines, own.to].map(line => ({
      atSeconds: clock.msAt(index, line) / 1000,
      fromSeconds: secondsAt(
        alignment,
        recorded.msAt(at, earlier(later(line, whole.stretches[at]!.from), whole.stretches[at]!.to)),
      ),
    }))
  })
  const pieces = marks.slice(0, -1).flatMap((mark, index): BackingPiece[] => {
    const next = marks[index + 1]!
    const lasts = next.atSeconds - mark.atSeconds
    return lasts > 1e-6 ? [{ ...mark, rate: Math.max(0.05, (next.fromSeconds - mark.fromSeconds) / lasts) }] : []
  })
  return { pieces, lengthSeconds: clock.lengthMs / 1000 }
}
