import { bisector } from 'd3-array'
import { barAt, type Arrangement, type Hand, type Note } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { add, compare, equal, subtract, ZERO, type Quarters } from '../music/quarters'

/** A note by its place, counted from its part's first bar line. */
export interface Placed {
  at: Quarters
  note: Note
}

/** What one hand plays in a part. */
export interface HandPart {
  /**
   * The first bar line at or behind the beginning: places are counted from it, so that a pickup lies before it. The bar
   * that begins there, by index.
   */
  line: Quarters
  lineBar: number
  /** The part's own edges, from the line. */
  from: Quarters
  to: Quarters
  notes: Placed[]
  /** Each note as text (place, key, length); all of them; and the rhythm alone. For lookup instead of comparison. */
  keys: Set<string>
  signature: string
  rhythm: string
}

/** The notes of one hand in a stretch. Grace notes are left out. */
export function handPart(arrangement: Arrangement, { from, to }: ScoreSpan, hand: Hand): HandPart {
  const bar = barAt(arrangement, from)
  const isOnLine = equal(bar.start, from) && equal(bar.offset, ZERO)
  const line = isOnLine ? bar.start : add(bar.start, bar.length)
  const notes: Placed[] = []
  for (let at = noteBy.left(arrangement.notes, from); at < arrangement.notes.length; at++) {
    const note = arrangement.notes[at]!
    if (compare(note.onset, to) >= 0) break
    if (note.hand === hand && !note.grace) notes.push({ at: subtract(note.onset, line), note })
  }
  const keys = notes.map(({ at, note }) => noteKey(at, note.pitch, note.duration))
  return {
    line,
    lineBar: isOnLine ? bar.index : bar.index + 1,
    from: subtract(from, line),
    to: subtract(to, line),
    notes,
    keys: new Set(keys),
    signature: keys.join(),
    rhythm: notes.map(({ at, note }) => `${keyOf(at)} ${keyOf(note.duration)}`).join(),
  }
}

/** A place as a text, equal for equal places. */
export const keyOf = ({ n, d }: Quarters): string => `${n}/${d}`
/** A note at a place as a text. */
export const noteKey = (at: Quarters, pitch: number, duration: Quarters): string =>
  `${keyOf(at)} ${pitch} ${keyOf(duration)}`

/**
 * What a hand plays in a stretch as one text: equal for stretches, also of other arrangements, in which it plays the
 * same. Empty where it rests.
 */
export const handSignature = (arrangement: Arrangement, stretch: ScoreSpan, hand: Hand): string =>
  handPart(arrangement, stretch, hand).signature

/** Notes are sorted by onset. */
const noteBy = bisector((note: Note, at: Quarters) => compare(note.onset, at))
