import { EACH_HAND } from '#core/music/arrangement'
import type { FingerNote } from './finger-note'
import { Note } from 'tonal'
import { arrangementEnd, tempoAt, type Arrangement, type Hand } from '../music/arrangement'
import { keyAt } from '../music/key'
import { expectedNotes, spanPassage, type ScoreSpan } from '../music/passage'
import { ZERO } from '../music/quarters'
import { findFingering } from './fingering'

/** How hard one hand's notes are at a tempo, in what makes them so, and in all. */
export interface HandDifficulty {
  /** Half steps from the lowest to the highest key that is struck at once, at most. */
  span: number
  /** Half steps that the hand has to go beyond the octave it lies over, at most. */
  leap: number
  /** Strokes a second where they are densest, over two seconds: keys that are struck together are one. */
  strokesPerSecond: number
  /** Keys to a stroke, on average. */
  keysAtOnce: number
  /** Changes of position in a minute, as the fingering has them. */
  movesPerMinute: number
  /** What the fingering costs, for each note. */
  effort: number
  /** All of it as one figure: 1 is a held note, 10 what a concert pianist works at. */
  level: number
}

/**
 * What one unit of each makes of the level. Own choice: set so that the left hands that are taught one after the other
 * rise in about that order, and that a fast page of many leaps comes near 10.
 */
const WEIGHT = {
  level: 0.6,
  span: 0.05,
  leap: 0.06,
  strokesPerSecond: 0.55,
  keysAtOnce: 0.4,
  movesPerMinute: 0.01,
  effort: 0.12,
} as const
const HARDEST = 10
/** The densest place is looked for in windows of so many ms. */
const WINDOW_MS = 2000
/** A hand lies over an octave. */
const LIES_OVER = 12

/**
 * How hard one hand's notes are, sorted by onset, at the tempo they are in; `tonic` as for the fingering. Notes of no
 * difficulty, none at all, are level 0.
 */
export function handDifficulty(
  notes: readonly FingerNote[],
  { hand, reach, tonic }: { hand: Hand; reach?: number; tonic?: number },
): HandDifficulty {
  if (notes.length === 0)
    return { span: 0, leap: 0, strokesPerSecond: 0, keysAtOnce: 0, movesPerMinute: 0, effort: 0, level: 0 }
  const { cost, events } = findFingering(notes, { hand, reach, tonic })
  const minutes = Math.max(WINDOW_MS, notes.at(-1)!.endMs - notes[0]!.onsetMs) / 60_000
  const strokes = strokesOf(notes)
  const found = {
    ...widths(strokes),
    strokesPerSecond: densest(strokes),
    keysAtOnce: notes.length / strokes.length,
    effort: cost / notes.length,
    movesPerMinute:
      events.filter(event => event.kind === 'position-change' || event.kind === 'crossing').length / minutes,
  }
  const level = Object.entries(found).reduce(
    (sum, [name, value]) => sum + value * WEIGHT[name as keyof typeof found],
    WEIGHT.level as number,
  )
  return { ...found, level: Math.min(HARDEST, level) }
}

/** How hard a piece is for each hand at its own tempo, and for both together. */
export interface PieceDifficulty {
  right: HandDifficulty
  left: HandDifficulty
  level: number
}

/** Two hands at once: the harder one, and so much of the easier. Own choice. */
const OTHER_HAND = 0.2

/** How hard a song, or a stretch of it as it is written, is at its own tempo, or at a share of it. */
export function pieceDifficulty(
  arrangement: Arrangement,
  { stretch, reach, tempoShare = 1 }: { stretch?: ScoreSpan; reach?: number; tempoShare?: number } = {},
): PieceDifficulty {
  const { from, to } = stretch ?? { from: ZERO, to: arrangementEnd(arrangement) }
  const tonic = Note.chroma(keyAt(arrangement, from).tonic) ?? undefined
  const [right, left] = EACH_HAND.map(hand =>
    handDifficulty(
      expectedNotes(arrangement, spanPassage(from, to, hand), tempoAt(arrangement, from) * tempoShare).map(
        ({ id, pitch, onsetMs, durationMs }) => ({ id, pitch, onsetMs, endMs: onsetMs + durationMs }),
      ),
      { hand, reach, tonic },
    ),
  )
  return {
    right: right!,
    left: left!,
    level: Math.min(HARDEST, Math.max(right!.level, left!.level) + OTHER_HAND * Math.min(right!.level, left!.level)),
  }
}

interface Stroke {
  onsetMs: number
  low: number
  high: number
}

/** What is struck together, with its lowest and highest key. */
function strokesOf(notes: readonly FingerNote[]): Stroke[] {
  const strokes: Stroke[] = []
  for (const { onsetMs, pitch } of notes) {
    const last = strokes.at(-1)
    if (last && onsetMs - last.onsetMs < 1)
      Object.assign(last, { low: Math.min(last.low, pitch), high: Math.max(last.high, pitch) })
    else strokes.push({ onsetMs, low: pitch, high: pitch })
  }
  return strokes
}

/** The widest that is struck at once, and the farthest that the hand goes from the octave it lay over. */
function widths(strokes: readonly Stroke[]): { span: number; leap: number } {
  let [span, leap] = [0, 0]
  let lies: { low: number; high: number } | undefined
  for (const { low, high } of strokes) {
    span = Math.max(span, high - low)
    if (lies) leap = Math.max(leap, lies.low - low, high - lies.high)
    lies = overOctave(lies, low, high)
  }
  return { span, leap: Math.round(leap) }
}

/** Where a hand lies after striking from `low` to `high`: over an octave, moved no farther than it has to. */
export function overOctave(
  before: { low: number; high: number } | undefined,
  low: number,
  high: number,
): { low: number; high: number } {
  if (high - low >= LIES_OVER) return { low, high }
  const from = Math.min(low, Math.max(before?.low ?? low - (LIES_OVER - (high - low)) / 2, high - LIES_OVER))
  return { low: from, high: from + LIES_OVER }
}

/** Strokes a second in the densest two seconds. */
function densest(strokes: readonly Stroke[]): number {
  let [first, most] = [0, 0]
  strokes.forEach(({ onsetMs }, last) => {
    while (onsetMs - strokes[first]!.onsetMs >= WINDOW_MS - 1) first++
    most = Math.max(most, last - first + 1)
  })
  return (most * 1000) / WINDOW_MS
}
