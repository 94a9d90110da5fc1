import { bisector } from 'd3-array'
import {
  arrangementEnd,
  barAt,
  positionIn,
  tempoAt,
  type Arrangement,
  type Bar,
  type Hand,
  type Hands,
  type Note,
  type PedalMark,
} from './arrangement'
import type { MidiPitch } from './pitch'
import { add, compare, earlier, equal, subtract, toDecimal, ZERO, type Quarters } from './quarters'
import { swingAt, swungShare } from './swing'

/** From one written position up to another, which is excluded. */
export interface ScoreSpan {
  readonly from: Quarters
  readonly to: Quarters
}

/** Whether two stretches have the same edges. */
export const isSameSpan = (one: ScoreSpan, other: ScoreSpan): boolean =>
  equal(one.from, other.from) && equal(one.to, other.to)

/** What is played: stretches of the written score, laid end to end, by one hand or both. */
export interface Passage {
  readonly stretches: readonly ScoreSpan[]
  readonly hands: Hands
}

/**
 * A written note with its due time, in ms from the passage's beginning; a grace note before the first beat is due
 * before 0.
 */
export interface ExpectedNote {
  id: string
  hand: Hand
  bar: number
  /** The index of the written bar, since several bars may share one printed number. */
  barIndex: number
  beat: number
  pitch: MidiPitch
  spelled: string
  onsetMs: number
  durationMs: number
  grace: boolean
  /** The due time of its score event: its own onset, or for a grace note that of the note it leads to. */
  eventMs: number
  /** The length of a quarter note here. */
  quarterMs: number
  voice: string
  finger?: number
  articulations?: readonly string[]
  ornaments?: readonly string[]
  /** Which time through the unfolded order this is (1 for the first). */
  time: number
  /** Where noteheads tied to it stand and when, ms: nothing is struck there. Only where there are some. */
  ties?: { atMs: number; bar: number; beat: number }[]
}

/** A grace note is expected this long before the next note (common practice: as short as can be played clearly). */
const GRACE_MS = 80

/** The part of the score from `from` to `to` as it is written. */
export const spanPassage = (from: Quarters, to: Quarters, hands: Hands): Passage => ({
  stretches: [{ from, to }],
  hands,
})

/** The whole song in playing order, repeats unfolded. */
export function wholePassage(arrangement: Arrangement, hands: Hands): Passage {
  const stretches: ScoreSpan[] = []
  for (const index of arrangement.order) {
    const bar = arrangement.bars[index]!
    const to = add(bar.start, bar.length)
    const last = stretches.at(-1)
    if (last && equal(last.to, bar.start)) stretches[stretches.length - 1] = { from: last.from, to }
    else stretches.push({ from: bar.start, to })
  }
  return { stretches, hands }
}

/** The passage played for a span: the whole song with its repeats unfolded; anything less as written. */
export const playedPassage = (arrangement: Arrangement, stretch: ScoreSpan, hands: Hands): Passage =>
  equal(stretch.from, ZERO) && compare(stretch.to, arrangementEnd(arrangement)) >= 0
    ? wholePassage(arrangement, hands)
    : spanPassage(stretch.from, stretch.to, hands)

/**
 * The written bars whose printed numbers lie from `first` to `last`.
 * Throws a RangeError that names the bars there are when none is meant.
 */
export function barsPassage(arrangement: Arrangement, first: number, last: number, hands: Hands): Passage {
  const meant = arrangement.bars.filter(bar => bar.number >= first && bar.number <= last)
  if (meant.length === 0) {
    throw new RangeError(
      `there is no bar from ${first} to ${last}; the score has bars ${arrangement.bars[0]?.number ?? 0} to ${arrangement.bars.at(-1)?.number ?? 0}`,
    )
  }
  const end = meant.at(-1)!
  return spanPassage(meant[0]!.start, add(end.start, end.length), hands)
}

/**
 * The clock of a passage: milliseconds from its beginning for a score moment inside one of its stretches.
 * `bpm` (quarter notes a minute) is the tempo at the passage's beginning; marked changes of tempo keep
 * their proportion to it. Without `bpm` the score's own tempo is used.
 */
export function passageClock(arrangement: Arrangement, passage: Passage, bpm?: number) {
  const startBpm = tempoAt(arrangement, passage.stretches[0]?.from ?? ZERO)
  const scale = (bpm ?? startBpm) / startBpm
  const starts: number[] = []
  let lengthMs = 0
  for (const stretch of passage.stretches) {
    starts.push(lengthMs)
    lengthMs += spanMs(arrangement, stretch.from, stretch.to, scale)
  }
  const lastTo = passage.stretches.at(-1)?.to ?? ZERO
  const endBpm = arrangement.tempos.findLast(tempo => compare(tempo.onset, lastTo) < 0)?.quarterBpm ?? startBpm
  return {
    lengthMs,
    /** The tempo at the passage's end as the length of a quarter note. */
    endQuarterMs: 60_000 / (endBpm * scale),
    /** The length of a quarter note at a score time. */
    quarterMsAt: (at: Quarters): number => 60_000 / (tempoAt(arrangement, at) * scale),
    /** The moment `at`, a written position within stretch number `stretch`. */
    msAt: (stretch: number, at: Quarters): number =>
      starts[stretch]! + spanMs(arrangement, passage.stretches[stretch]!.from, at, scale),
  }
}

function spanMs(arrangement: Arrangement, from: Quarters, to: Quarters, scale: number): number {
  let ms = 0
  let at = from
  let bpm = tempoAt(arrangement, from)
  for (const tempo of arrangement.tempos) {
    if (compare(tempo.onset, at) <= 0) continue
    const until = earlier(tempo.onset, to)
    if (compare(until, at) > 0) ms += ((toDecimal(until) - toDecimal(at)) * 60_000) / (bpm * scale)
    if (compare(tempo.onset, to) >= 0) return ms
    at = tempo.onset
    bpm = tempo.quarterBpm
  }
  return ms + (Math.max(0, toDecimal(to) - toDecimal(at)) * 60_000) / (bpm * scale)
}

/**
 * Every note to be struck in the passage, sorted by due time and then pitch. A note that sounds over the
 * end is cut there; one tied in from before the beginning is not struck and not listed.
 */
export function expectedNotes(arrangement: Arrangement, passage: Passage, bpm?: number): ExpectedNote[] {
  const clock = passageClock(arrangement, passage, bpm)
  const timesSeen = new Map<string, number>()
  const expected: ExpectedNote[] = []
  const { notes } = arrangement
  passage.stretches.forEach((stretch, index) => {
    let here: ReturnType<typeof placeOf> | undefined
    for (let at = noteBy.left(notes, stretch.from); at < notes.length; at++) {
      const note = notes[at]!
      if (compare(note.onset, stretch.to) >= 0) break
      if (passage.hands !== 'both' && note.hand !== passage.hands) continue
      const time = passage.stretches.length === 1 ? 1 : (timesSeen.get(note.id) ?? 0) + 1
      if (passage.stretches.length > 1) timesSeen.set(note.id, time)
      // Notes of one event share its place and time.
      if (!here || !equal(here.onset, note.onset)) here = placeOf(arrangement, clock, index, note)
      const { dueMs, quarterMs, bar, beat } = here
      const until = earlier(add(note.onset, note.duration), stretch.to)
      const endMs = clock.msAt(index, until) + swungMs(arrangement, arrangement.bars[note.barIndex]!, until, quarterMs)
      const one: ExpectedNote = {
        id: note.id,
        hand: note.hand,
        bar,
        barIndex: note.barIndex,
        beat,
        pitch: note.pitch,
        spelled: note.spelled,
        time,
        onsetMs: note.grace ? dueMs - note.grace.before * GRACE_MS : dueMs,
        durationMs: note.grace ? GRACE_MS : endMs - dueMs,
        grace: note.grace !== undefined,
        eventMs: dueMs,
        quarterMs,
        voice: note.voice,
      }
      if (note.finger !== undefined) one.finger = note.finger
      if (note.articulations) one.articulations = note.articulations
      if (note.ornaments) one.ornaments = note.ornaments
      const tied = tiedOnsets(arrangement, note).filter(at => compare(at, until) < 0)
      if (tied.length > 0)
        one.ties = tied.map(at => ({ atMs: clock.msAt(index, at), ...positionIn(barAt(arrangement, at), at) }))
      expected.push(one)
    }
  })
  return expected.sort((a, b) => a.onsetMs - b.onsetMs || a.pitch - b.pitch)
}

/** The noteheads tied to a note: as the file says, or at the bar lines it sounds over, where notation needs a tie. */
function tiedOnsets({ bars }: Arrangement, { tiedAt, barIndex, onset, duration, grace }: Note): readonly Quarters[] {
  if (tiedAt) return tiedAt
  if (grace) return []
  const end = add(onset, duration)
  const crossed: Quarters[] = []
  for (let index = barIndex + 1; index < bars.length && compare(bars[index]!.start, end) < 0; index++)
    crossed.push(bars[index]!.start)
  return crossed
}

/** The printed numbers of a passage's first and last bar: "1-8". */
export function passageBars(arrangement: Arrangement, passage: Passage): string {
  const first = barAt(arrangement, passage.stretches[0]!.from).number
  const end = passage.stretches.at(-1)!.to
  const last = arrangement.bars.findLast(bar => toDecimal(bar.start) < toDecimal(end))?.number ?? first
  return `${first}-${last}`
}

/** A mark of the score within a passage: its time, ms from the passage's beginning, and where it is printed. */
export type DueStroke<Mark> = Mark & { atMs: number; bar: number; beat: number }
export type PedalDue = DueStroke<PedalMark>

/** The marks that stand in the passage, in playing order. */
export function dueMarks<Mark extends { onset: Quarters }>(
  arrangement: Arrangement,
  passage: Passage,
  marks: readonly Mark[],
  bpm?: number,
): DueStroke<Mark>[] {
  const clock = passageClock(arrangement, passage, bpm)
  return passage.stretches.flatMap((stretch, index) =>
    marks
      .filter(({ onset }) => compare(onset, stretch.from) >= 0 && compare(onset, stretch.to) < 0)
      .map(mark => ({
        ...mark,
        atMs: clock.msAt(index, mark.onset),
        ...positionIn(barAt(arrangement, mark.onset), mark.onset),
      })),
  )
}

/** Where a note of the passage stands and when it is due. */
function placeOf(
  arrangement: Arrangement,
  clock: ReturnType<typeof passageClock>,
  stretch: number,
  { onset, barIndex }: Note,
) {
  const inBar = arrangement.bars[barIndex]!
  const quarterMs = clock.quarterMsAt(onset)
  return {
    onset,
    quarterMs,
    dueMs: clock.msAt(stretch, onset) + swungMs(arrangement, inBar, onset, quarterMs),
    ...positionIn(inBar, onset),
  }
}

/** How much later than written, ms, an offbeat sounds where the score asks for swing. */
export function swungMs(arrangement: Arrangement, bar: Bar, at: Quarters, quarterMs: number): number {
  const swing = swingAt(arrangement.swings ?? [], at)
  return swing ? swungShare(swing, subtract(add(at, bar.offset), bar.start), 60_000 / quarterMs) * quarterMs : 0
}

/** The notes that begin in a stretch, in order. */
export const notesWithin = ({ notes }: Arrangement, { from, to }: ScoreSpan): Note[] =>
  notes.slice(noteBy.left(notes, from), noteBy.left(notes, to))

/** Notes are sorted by onset. */
const noteBy = bisector((note: Note, at: Quarters) => compare(note.onset, at))

/** Whether a note's timing is judged: not a grace note, an ornament or part of a rolled chord. */
export const isTimed = ({ grace, ornaments, articulations }: ExpectedNote): boolean =>
  !grace && !ornaments && !articulations?.includes('arpeggiate')
