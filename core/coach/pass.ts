import { bisector } from 'd3-array'
import type { Assessment } from '../ear/assessment'
import type { FindingKind } from '../ear/finding'
import type { Strictness } from '../ear/parameters'
import type { Arrangement, Hands } from '../music/arrangement'
import { notesWithin, type ScoreSpan } from '../music/passage'
import { compare, equal, type Quarters } from '../music/quarters'

/** A pass as the coach remembers it. */
export interface PastPass {
  /** The notes and hands, as from `notesKey`. */
  key: string
  stretch: ScoreSpan
  hands: Hands
  mode: 'steady' | 'own-time'
  /** Quarter notes a minute; in own time the tempo that the place stood at. */
  bpm: number
  clean: boolean
  /** Large faults of touch, swing, dynamics and pedal, by kind; none where nobody asked. */
  cleanBut?: readonly FindingKind[]
  /** How strictly it was judged. */
  strictness?: Strictness
  right: number
  notes: number
  /** Failed onsets: a wrong, missing or much too late note, or a hesitation before it. */
  failed: readonly Quarters[]
  /** The player has called this place hard: it is mended from here on. */
  /** Played in another edition of the song with other notes: that arrangement's id. */
  edition?: string
  isOwnSpot?: boolean
  /** When it began, ms since 1970. */
  atMs: number
  lengthMs: number
}

/** Minutes at the keys. */
export const minutesPlayed = (passes: readonly PastPass[]): number =>
  passes.reduce((sum, pass) => sum + pass.lengthMs, 0) / 60_000

/**
 * The onsets of a span for these hands, in order, each with its place in the score; grace notes belong to the note they
 * lead to.
 */
export function eventOnsets(arrangement: Arrangement, stretch: ScoreSpan, hands: Hands): Quarters[] {
  const places: Quarters[] = []
  for (const { hand, onset } of notesWithin(arrangement, stretch)) {
    if ((hands === 'both' || hand === hands) && !(places.length > 0 && equal(places.at(-1)!, onset))) places.push(onset)
  }
  return places
}

const playedBy = bisector((note: { played: number | null }) => note.played ?? -1)

/** A note later than this multiple of the tolerance counts as failed. */
const MUCH_TOO_LATE = 2

/** Where a pass failed. An extra stroke counts for the right note that came after it: a key found at the second try. */
export function failedPlaces(arrangement: Arrangement, { notes, extras, findings, summary }: Assessment): Quarters[] {
  const onsets = new Map(arrangement.notes.map(note => [note.id, note.onset]))
  const failed = notes.filter(
    note => (note.outcome !== 'right' && !note.sharedKey) || (note.deviationMs ?? 0) > MUCH_TOO_LATE * summary.onTimeMs,
  )
  const byPlayed = notes.filter(note => note.played !== null).sort((a, b) => a.played! - b.played!)
  for (const extra of extras) {
    if (extra.restart || extra.ornament || extra.doubled || extra.repeat) continue
    const after = byPlayed[playedBy.right(byPlayed, extra.played)]
    if (after) failed.push(after)
  }
  for (const finding of findings) {
    if (finding.kind !== 'hesitation') continue
    const there = notes.find(note => note.bar === finding.bar && Math.abs(note.beat - finding.beat) < 0.01)
    if (there) failed.push(there)
  }
  const places = failed.flatMap(note => onsets.get(note.id) ?? []).sort(compare)
  return places.filter((place, index) => index === 0 || !equal(place, places[index - 1]!))
}
