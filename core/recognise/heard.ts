import { assessTake } from '../ear/assess'
import type { Assessment } from '../ear/assessment'
import type { Strictness } from '../ear/parameters'
import { playedSpan } from '../ear/played-span'
import { fromFirstKey, type Take } from '../ear/take'
import type { Arrangement, Hands } from '../music/arrangement'
import { barsMarked } from '../music/marked'
import { spanPassage, type ScoreSpan } from '../music/passage'
import type { NoteIndex } from './note-index'
import { recognise } from './recognise'

/**
 * A stretch of a song that was played by the way, judged in its own time. `score`: the number of the song in the index;
 * `atMs`: when it began in the take.
 */
export interface RecognisedSpan {
  score: number
  hands: Hands
  stretch: ScoreSpan
  take: Take
  atMs: number
  lengthMs: number
  bpm: number
  summary: Assessment['summary']
}

/** Spans with fewer strokes than this are not worth keeping. */
const MIN_STROKES = 10

/**
 * What of which songs was played in a take, each stretch judged by itself at the tempo that it had; what is no song is
 * left out. `scores`: the songs by their numbers in the index. A stretch that hardly holds what was recognised in it is
 * left out too.
 */
export function recognisedSpans(
  index: NoteIndex,
  scores: readonly Arrangement[],
  take: Take,
  strictness: Strictness = 'normal',
): RecognisedSpan[] {
  return recognise(index, take.notes).flatMap(
    ({ score, hands, bars: [first, last], fromPlayed, toPlayed, fromMs }): RecognisedSpan[] => {
      const arrangement = scores[score]!
      const notes = take.notes.slice(fromPlayed, toPlayed + 1)
      if (notes.length < MIN_STROKES) return []
      const endMs = notes.reduce((latest, note) => Math.max(latest, note.onsetMs + note.durationMs), 0)
      const own = fromFirstKey({ notes, pedals: take.pedals.filter(({ atMs }) => atMs >= fromMs && atMs <= endMs) })
      const judge = (stretch: ScoreSpan) =>
        assessTake({
          arrangement,
          passage: spanPassage(stretch.from, stretch.to, hands),
          take: own,
          mode: 'free',
          strictness,
        })
      const whole = barsMarked(arrangement, first, last)
      const stretch = playedSpan(arrangement, whole, judge(whole).notes)
      if (!stretch) return []
      const {
        summary,
        score: { bpm },
      } = judge(stretch)
      return [{ score, hands, stretch, take: own, atMs: fromMs, lengthMs: endMs - fromMs, bpm, summary }]
    },
  )
}
