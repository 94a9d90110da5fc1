import { HANDS } from '#core/music/arrangement'
import type { Arrangement, Hands } from '../music/arrangement'
import { expectedNotes, wholePassage } from '../music/passage'

/** All that begins at one moment of a song with one hand or both. */
export interface SongEvent {
  atMs: number
  /** Pitches in order, each once. */
  pitches: readonly number[]
  barIndex: number
  bar: number
}

/** A song as it may be heard: with one hand or both, repeats as they are written. */
/** `columns`: the moments that hold each pitch, in order. */
export interface Hearable {
  score: number
  hands: Hands
  events: readonly SongEvent[]
  columns: ReadonlyMap<number, readonly number[]>
}

/** Strokes or notes nearer than this are one moment, ms. */
export const TOGETHER_MS = 45

/** How many moments a pattern of three may leave out: a note missed, or one too many. */
const LEAVES_OUT = 1

/** Where three moments in a row have these highest (or lowest) notes: a hearable, and the moment of the first. */
export interface Hit {
  hearable: number
  event: number
}

/** Three pitches as one number. */
export const patternOf = (a: number, b: number, c: number): number => (a * 128 + b) * 128 + c

/**
 * An index of short note patterns over songs: from three highest or lowest notes in a row to where they are written.
 */
export class NoteIndex {
  readonly hearables: Hearable[] = []
  /** Events of all songs together. */
  places = 0
  private readonly known = new Map<number, number[]>()

  /**
   * Adds a song; its number is how many were added before. Hands that have nothing of their own to play are left out.
   */
  add(score: number, arrangement: Arrangement): void {
    const all = HANDS.map(hands => songEventsOf(arrangement, hands))
    const isTwoHanded = all[0]!.length > 0 && all[1]!.length > 0
    HANDS.forEach((hands, index) => {
      const events = all[index]!
      if (events.length < 3 || (hands === 'both' && !isTwoHanded)) return
      const hearable = this.hearables.push({ score, hands, events, columns: columnsOf(events) }) - 1
      this.places += events.length
      for (let first = 0; first + 2 < events.length; first++) {
        for (let second = first + 1; second <= Math.min(first + 1 + LEAVES_OUT, events.length - 2); second++) {
          const third = second + 1
          const seen = new Set<number>()
          for (const edge of EDGES) {
            const pattern = patternOf(
              edge(events[first]!.pitches),
              edge(events[second]!.pitches),
              edge(events[third]!.pitches),
            )
            if (seen.has(pattern)) continue
            seen.add(pattern)
            const packed = hearable * PLACES + first
            const list = this.known.get(pattern)
            if (list) list.push(packed)
            else this.known.set(pattern, [packed])
          }
        }
      }
    })
  }

  /** Where a pattern is written. */
  *find(pattern: number): Iterable<Hit> {
    for (const packed of this.known.get(pattern) ?? [])
      yield { hearable: Math.floor(packed / PLACES), event: packed % PLACES }
  }
}

/** Which moments hold each pitch. */
export function columnsOf(events: readonly SongEvent[]): Map<number, number[]> {
  const columns = new Map<number, number[]>()
  events.forEach(({ pitches }, at) => {
    for (const pitch of pitches) {
      const known = columns.get(pitch)
      if (known) known.push(at)
      else columns.set(pitch, [at])
    }
  })
  return columns
}

/** More moments than any song has (`LIMITS.notes`). */
const PLACES = 65_536

/**
 * The highest and the lowest note: of a chord struck by hand one of them is where it is written, whatever order its
 * notes come in.
 */
export const EDGES: readonly ((pitches: readonly number[]) => number)[] = [
  pitches => pitches.at(-1)!,
  pitches => pitches[0]!,
]

function songEventsOf(arrangement: Arrangement, hands: Hands): SongEvent[] {
  const events: { atMs: number; pitches: number[]; barIndex: number; bar: number }[] = []
  // A listener takes a repeat for a restart, so each bar is indexed once.
  const written = { ...wholePassage({ ...arrangement, order: arrangement.bars.map(({ index }) => index) }, hands) }
  for (const { eventMs: eventMs, pitch, barIndex, bar, grace } of expectedNotes(arrangement, written)) {
    if (grace) continue
    const last = events.at(-1)
    if (last && eventMs - last.atMs < 1) {
      if (!last.pitches.includes(pitch)) last.pitches.push(pitch)
    } else events.push({ atMs: eventMs, pitches: [pitch], barIndex, bar })
  }
  for (const { pitches } of events) pitches.sort((a, b) => a - b)
  return events
}
