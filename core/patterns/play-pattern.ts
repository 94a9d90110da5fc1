import { TABLE_REACH } from '../hands/ergonomics'
import { FULL_HOLD, withinHold } from '../hands/reach'
import type { HandNote } from '../music/arrange'
import { arrangementEnd, type Arrangement, type Bar, type Hand } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { isOnKeyboard, type MidiPitch } from '../music/pitch'
import { add, compare, earlier, equal, later, subtract, toDecimal, ZERO, type Quarters } from '../music/quarters'
import type { Harmony } from '../music/song-harmony'
import { hasLine, keysOf, MUDDY } from './hand-keys'
import { onBeats, type HandPattern } from './hand-pattern'
import { otherThan, type Limit } from './other-hand'
import type { ChordTone } from './pattern'
import { beatsOf, place, withChanges, type Placed } from './placed'

/** What is to be played, by which hand, to which chords. */
export interface PatternRequest {
  readonly pattern: HandPattern
  readonly hand: Hand
  readonly harmonies: readonly Harmony[]
  readonly stretch?: ScoreSpan
  /** From thumb to little finger, half steps. */
  readonly reach?: number
}

/** A chord in a bar: from where to where. */
interface Piece {
  readonly harmony: Harmony
  readonly from: Quarters
  readonly to: Quarters
  readonly bar: Bar
}
interface Stroke extends Placed<ChordTone> {
  piece: number
}
interface Key {
  onset: number
  end: number
  pitch: MidiPitch
  isKept: boolean
  stroke: Stroke
  until: Quarters
}

/**
 * One hand's notes: a pattern played to chords, bar by bar as they are written. Basses are what the symbols say;
 * inversions lie nearest to the chord before, in the register where they are clear; nothing is wider than the reach or
 * crosses the other hand's notes. A pickup is left to whoever leads in, and where there is no chord nothing is played.
 */
export function playPattern(
  arrangement: Arrangement,
  { pattern, hand, harmonies, stretch, reach = TABLE_REACH }: PatternRequest,
): HandNote[] {
  const { from, to } = stretch ?? { from: ZERO, to: arrangementEnd(arrangement) }
  const pieces: Piece[] = []
  const strokes: Stroke[] = []
  let [turn, next] = [0, 0]
  arrangement.bars.forEach((bar, index) => {
    const before = arrangement.bars[index - 1]
    if (before && (before.meter.beats !== bar.meter.beats || before.meter.beatType !== bar.meter.beatType)) turn = 0
    const [begin, end] = [later(bar.start, from), earlier(add(bar.start, bar.length), to)]
    if (compare(begin, end) >= 0 || (index === 0 && !equal(bar.offset, ZERO))) return
    while (next < harmonies.length && compare(harmonies[next]!.end, begin) <= 0) next++
    const own = piecesOf(harmonies, next, bar, begin, end)
    strokes.push(
      ...strokesOf(pattern, bar, own, turn).map(stroke => ({ ...stroke, piece: pieces.length + stroke.piece })),
    )
    pieces.push(...own)
    turn++
  })
  const other = otherThan(hand, arrangement)
  const struck = keysOf(
    pattern,
    hand,
    pieces.map(piece => ({
      harmony: piece.harmony,
      limit: other.limit(piece.from, piece.to),
      fifths: piece.bar.fifths,
    })),
    strokes.map(({ note, piece }) => ({ tone: note.tone, octave: note.octave ?? 0, piece })),
  )
  const keys = strokes.flatMap((stroke, index): Key[] => {
    if (pattern.answers && other.sounds(stroke.at)) return []
    const until = pattern.answers ? earlier(stroke.end, other.next(stroke.at) ?? stroke.end) : stroke.end
    const { keys, isAsked } = struck[index]!
    const limit = other.limit(stroke.at, until)
    return keys
      .flatMap(key => uncrossed(key, limit) ?? [])
      .map(pitch => ({ onset: toDecimal(stroke.at), end: toDecimal(until), pitch, isKept: isAsked, stroke, until }))
  })
  const held = withinHold(
    clear(keys.sort((a, b) => a.onset - b.onset || a.pitch - b.pitch)),
    hand === 'left' ? 'lowest' : 'highest',
    { ...FULL_HOLD, reach },
  )
  const onsets = new Map(held.map(key => [key.onset, key.stroke.at]))
  return held.flatMap(key => written(key, hand, onsets))
}

/** The chords in a bar, between two moments of it; `first`: the first that may sound there. */
function piecesOf(harmonies: readonly Harmony[], first: number, bar: Bar, from: Quarters, to: Quarters): Piece[] {
  const pieces: Piece[] = []
  for (let index = first; index < harmonies.length && compare(harmonies[index]!.onset, to) < 0; index++) {
    const harmony = harmonies[index]!
    pieces.push({ harmony, bar, from: later(harmony.onset, from), to: earlier(harmony.end, to) })
  }
  return pieces
}

/**
 * A bar's strokes, with the index of the chord of each: a chord that begins on a beat restarts the pattern, unless its
 * rhythm is its own.
 */
function strokesOf(pattern: HandPattern, bar: Bar, pieces: readonly Piece[], turn: number): Stroke[] {
  const [first, last] = [pieces[0], pieces.at(-1)]
  if (!first || !last) return []
  const beats = beatsOf(bar)
  const beatAt = (at: Quarters) => beats.findIndex(beat => equal(beat, at))
  if (!pattern.isOneRhythm && pieces.every(({ from, to }) => beatAt(from) >= 0 && beatAt(to) >= 0)) {
    return pieces.flatMap(({ from, to }, piece) =>
      place(onBeats(pattern, bar.meter, beatAt(to) - beatAt(from), turn), bar, beatAt(from)).map(stroke => ({
        ...stroke,
        end: earlier(stroke.end, to),
        piece,
      })),
    )
  }
  const laid = place(onBeats(pattern, bar.meter, beats.length - 1, turn), bar)
  return withChanges<ChordTone>(
    laid,
    pieces.map(({ from }) => ({ onset: from })),
    first.from,
    last.to,
    hasLine(pattern) ? 'bass' : 'chord',
  ).flatMap((stroke): Stroke[] => {
    const piece = pieces.findIndex(({ from, to }) => compare(from, stroke.at) <= 0 && compare(stroke.at, to) < 0)
    return piece < 0 ? [] : [{ ...stroke, end: earlier(stroke.end, pieces[piece]!.to), piece }]
  })
}

/** A key on this side of the other hand, in its own octave or one that is; undefined where there is none. */
function uncrossed(key: MidiPitch, { below = 128, above = -1 }: Limit): MidiPitch | undefined {
  let pitch = key
  while (pitch >= below) pitch -= 12
  while (pitch <= above) pitch += 12
  return isOnKeyboard(pitch) && pitch < below ? pitch : undefined
}

/** Without what would sound muddy over a low key that is struck with it. Sorted by onset, then pitch. */
function clear(keys: readonly Key[]): Key[] {
  let [low, at] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  return keys.filter(key => {
    if (key.onset > at) [low, at] = [Number.POSITIVE_INFINITY, key.onset]
    const isClear = key.isKept || low >= MUDDY.below || key.pitch - low >= MUDDY.least
    if (isClear) low = key.pitch
    return isClear
  })
}

/** A key as it is written, with the grace note that slides into it. */
function written({ stroke, pitch, end, until }: Key, hand: Hand, onsets: ReadonlyMap<number, Quarters>): HandNote[] {
  // Let go early, it ends where the next key is struck.
  const stop = end === toDecimal(until) ? until : (onsets.get(end) ?? until)
  const note: HandNote = { hand, onset: stroke.at, end: stop, pitch }
  const isSlid = stroke.note.slide && compare(subtract(stop, stroke.at), ZERO) > 0
  return isSlid
    ? [{ hand, onset: stroke.at, end: stroke.at, pitch: pitch - 1, grace: { slash: true, before: 1 } }, note]
    : [note]
}
