import { bisector } from 'd3-array'
import type { Arrangement, Bar } from '../music/arrangement'
import { feltBeatQuarters, type Meter } from '../music/meter'
import type { ExpectedNote } from '../music/passage'
import { add, compare, toDecimal } from '../music/quarters'
import type { TempoParameters } from './parameters'
import type { PlayedEvent, TempoSegmentation, TempoSegment } from './tempo-segmentation'
import { median } from './statistics'

/** The parts of an arrangement that the tempo is interpreted with. */
export type Frame = Pick<Arrangement, 'bars' | 'tempoWords'>

/** Bars played at another tempo than the rest, or than the click. `tempoRatio`: their tempo ÷ the usual one. */
export interface SectionHeard {
  segment: number
  fromBarIndex: number
  toBarIndex: number
  tempoRatio: number
}

/**
 * Bars of one meter in which the player counts this many beats (of the meter's denominator) instead of those written.
 */
export interface CountingHeard {
  meter: Meter
  counted: number
  written: number
  barIndices: number[]
  breaks: number[]
}

/** The player came in late (+) or early (−), in felt beats; `at`: the played event. */
export interface EntryHeard {
  at: number
  ms: number
  beats: number
  breakAt?: number
}

/** What a teacher hears in the tempo, besides single pauses. */
export interface TempoInterpretation {
  /** With a click: the tempo of nearly the whole take ÷ the click's, when it is another. */
  whole?: number
  sections: SectionHeard[]
  counting: CountingHeard[]
  entries: EntryHeard[]
  /** Breaks (by index) that these explain, and the exact lag since then, ms: they are no pauses. */
  explained: ReadonlyMap<number, number>
}

/** Interprets the segmentation: another tempo, sections at another tempo, bars miscounted, a late entry. */
export function interpretTempo(
  arrangement: Frame,
  expected: readonly ExpectedNote[],
  course: TempoSegmentation,
  steady: boolean,
  tempo: TempoParameters,
): TempoInterpretation {
  const explained = new Map<number, number>()
  const entries = entriesOf(arrangement, expected, course, steady, tempo, explained)
  const counting = countingOf(arrangement, course, tempo, explained)
  const isOther = steady && Math.abs(Math.log(course.usual)) > tempo.otherTempo
  return {
    ...(isOther ? { whole: 1 / course.usual } : {}),
    sections: sectionsOf(arrangement, course, steady, tempo),
    counting,
    entries,
    explained,
  }
}

const sectionBars = ({ bars }: Frame, { barIndex }: PlayedEvent): Bar => bars[barIndex]!

function sectionsOf(
  arrangement: Frame,
  { played, segments, usual }: TempoSegmentation,
  steady: boolean,
  tempo: TempoParameters,
): SectionHeard[] {
  // A tempo that only rises or only falls has no sections.
  if (!steady && isRamp(segments)) return []
  const least = steady ? tempo.otherTempo : tempo.otherOwnTempo
  const lastMs = played.reduce((latest, one) => Math.max(latest, one.atMs), 0)
  return segments.flatMap(({ first, last, ratio }, index): SectionHeard[] => {
    const off = Math.log(ratio / usual)
    if (Math.abs(off) < least || first === last) return []
    const goesOn = segments[index + 1]?.first === last
    const [begin, end] = [played[first]!, played[goesOn ? last - 1 : last]!]
    const beginBar = sectionBars(arrangement, begin)
    const fromBarIndex =
      begin.beat >= beginBar.meter.beats && begin.beat > 1 && index > 0 ? begin.barIndex + 1 : begin.barIndex
    const next = played[last]!
    const toBarIndex = goesOn && next.beat <= 2 && next.barIndex > fromBarIndex ? next.barIndex - 1 : end.barIndex
    if (toBarIndex < fromBarIndex) return []
    const bars = (next.atMs - begin.atMs) / (toDecimal(beginBar.length) * begin.quarterMs)
    if (bars < 0.7) return []
    if (off > 0 && slowsOnPurpose(arrangement, fromBarIndex, toBarIndex)) return []
    // Ends of phrases and of the piece may take their time: freedom, not a fault.
    const isFree =
      !steady &&
      Math.abs(off) < Math.log(1.35) &&
      (bars < 1.9 || (off > 0 && lastMs - next.atMs < toDecimal(beginBar.length) * begin.quarterMs && bars < 3))
    return isFree ? [] : [{ segment: index, fromBarIndex, toBarIndex, tempoRatio: usual / ratio }]
  })
}

/** Whether the tempo goes one way through three segments or more. */
function isRamp(segments: readonly TempoSegment[]): boolean {
  const steps = segments
    .slice(1)
    .flatMap((segment, index) =>
      segment.run === segments[index]!.run ? [Math.sign(segment.ratio - segments[index]!.ratio)] : [],
    )
  return steps.length >= 2 && steps.every(step => step === steps[0])
}

/** Whether a word of the score asks to slow down in or shortly before these bars. */
function slowsOnPurpose({ tempoWords = [], bars }: Frame, fromBarIndex: number, toBarIndex: number): boolean {
  const end = add(bars[toBarIndex]!.start, bars[toBarIndex]!.length)
  const word = tempoWords.findLast(one => compare(one.onset, end) < 0)
  return word?.kind === 'slower' && compare(word.onset, bars[Math.max(0, fromBarIndex - 1)]!.start) >= 0
}

/** A break that is a whole number of the meter's beats, undefined for any other. */
function wholeBeats(
  arrangement: Frame,
  { played, segments, unsteadinessMs }: TempoSegmentation,
  { at, ms, segment }: TempoSegmentation['breaks'][number],
  nearWholeBeats: number,
): number | undefined {
  const before = played[at - 1]!
  const { meter } = sectionBars(arrangement, before)
  const unitMs = ((before.quarterMs * 4) / meter.beatType) * segments[segment]!.ratio
  const beats = ms / unitMs
  const whole = Math.round(beats)
  return whole !== 0 &&
    Math.abs(whole) <= meter.beats &&
    Math.abs(beats - whole) <= Math.max(nearWholeBeats, (2.5 * Math.SQRT2 * unsteadinessMs) / unitMs)
    ? whole
    : undefined
}

/** A number of the meter's beats in the take, ms. */
function exactMs(
  arrangement: Frame,
  { played, segments, breaks }: TempoSegmentation,
  index: number,
  beats: number,
): number {
  const { at, segment } = breaks[index]!
  const before = played[at - 1]!
  return ((beats * before.quarterMs * 4) / sectionBars(arrangement, before).meter.beatType) * segments[segment]!.ratio
}

/**
 * Bars miscounted the same way that make a way of counting; fewer are enough for beats left out, which no pause
 * explains.
 */
const MIN_SECTION_BARS = 3
const MIN_SHORT_BARS = 2
/** Tolerance for another break of a known miscount, as a share of it. */
const ABOUT = 0.4

function countingOf(
  arrangement: Frame,
  course: TempoSegmentation,
  tempo: TempoParameters,
  explained: Map<number, number>,
): CountingHeard[] {
  const groups = new Map<string, { meter: Meter; beats: number; breaks: number[]; barIndices: number[] }>()
  course.breaks.forEach((one, index) => {
    if (explained.has(index)) return
    const beats = wholeBeats(arrangement, course, one, tempo.nearWholeBeats)
    if (beats === undefined) return
    const { barIndex } = course.played[one.at - 1]!
    const { meter } = arrangement.bars[barIndex]!
    const key = `${meter.beats}/${meter.beatType}:${beats}`
    const group = groups.get(key) ?? { meter, beats, breaks: [], barIndices: [] }
    groups.set(key, group)
    group.breaks.push(index)
    group.barIndices.push(barIndex)
  })
  return [...groups.values()].flatMap(({ meter, beats, breaks, barIndices }): CountingHeard[] => {
    const bars = [...new Set(barIndices)]
    if (bars.length < (beats < 0 ? MIN_SHORT_BARS : MIN_SECTION_BARS)) return []
    // Most bars of this meter between the first and the last are counted this way.
    const among = arrangement.bars
      .slice(Math.min(...bars), Math.max(...bars) + 1)
      .filter(bar => bar.meter.beats === meter.beats && bar.meter.beatType === meter.beatType).length
    if (bars.length < 0.4 * among) return []
    // Once the way of counting is known, a break of about its size is one more of them.
    const more = course.breaks.flatMap((one, index) => {
      const bar = sectionBars(arrangement, course.played[one.at - 1]!)
      const isLike =
        !breaks.includes(index) &&
        !explained.has(index) &&
        bar.meter.beats === meter.beats &&
        bar.meter.beatType === meter.beatType
      return isLike &&
        Math.abs(one.ms - exactMs(arrangement, course, index, beats)) <
          ABOUT * Math.abs(exactMs(arrangement, course, index, beats))
        ? [index]
        : []
    })
    const all = [...breaks, ...more].sort((a, b) => a - b)
    for (const index of all) explained.set(index, exactMs(arrangement, course, index, beats))
    return [
      {
        meter,
        written: meter.beats,
        counted: meter.beats + beats,
        barIndices: [
          ...new Set([...bars, ...more.map(index => course.played[course.breaks[index]!.at - 1]!.barIndex)]),
        ],
        breaks: all,
      },
    ]
  })
}

/** After a silence of this many quarter notes, what follows is an entry. */
const REST_QUARTERS = 1.5
/** Events that the line of the beginning is fitted to. */
const FIRST_MOMENTS = 8

function entriesOf(
  arrangement: Frame,
  expected: readonly ExpectedNote[],
  course: TempoSegmentation,
  steady: boolean,
  tempo: TempoParameters,
  explained: Map<number, number>,
): EntryHeard[] {
  const { played, segments, breaks } = course
  const entries: EntryHeard[] = []
  const first = played[0]
  const segment = segments.find(one => one.first === 0)
  if (steady && first && segment && Math.abs(Math.log(segment.ratio)) <= tempo.otherTempo) {
    const firstBreak = breaks.find(one => one.segment === segments.indexOf(segment))?.at ?? segment.last + 1
    const late = played
      .slice(0, Math.min(FIRST_MOMENTS, firstBreak))
      .map(one => one.takeMs - first.takeMs - segment.ratio * (one.atMs - first.atMs) + first.takeMs - first.atMs)
    const ms = median(late)
    const beatMs = feltBeatQuarters(sectionBars(arrangement, first).meter) * first.quarterMs
    const beats = ms / beatMs
    const isEntry =
      Math.abs(ms) > MAX_DELAY_MS &&
      (Math.abs(beats) >= 1.25 || (Math.abs(beats) >= tempo.entryBeats && Math.abs(beats - Math.sign(beats)) < 0.25))
    if (isEntry) entries.push({ at: 0, ms, beats: nearWhole(beats, tempo.nearWholeBeats) })
  }
  const soundsTo = soundingTo(expected)
  breaks.forEach((one, index) => {
    const here = played[one.at]!
    if ((here.atMs - soundsTo(here.atMs)) / here.quarterMs < REST_QUARTERS) return
    const whole = wholeBeats(arrangement, course, one, tempo.nearWholeBeats)
    if (whole === undefined) return
    explained.set(index, exactMs(arrangement, course, index, whole))
    const { meter } = sectionBars(arrangement, here)
    entries.push({
      at: one.at,
      ms: one.ms,
      beats: (whole * 4) / meter.beatType / feltBeatQuarters(meter),
      breakAt: index,
    })
  })
  return entries
}

/**
 * A keyboard answers within this, ms; longer delays are the player (common practice: USB within 5, wireless within
 * 100).
 */
export const MAX_DELAY_MS = 250

const nearWhole = (beats: number, near: number): number =>
  Math.abs(beats - Math.round(beats)) <= near ? Math.round(beats) : Number(beats.toFixed(1))

/** Until when the notes struck before a score time are written to sound. */
function soundingTo(expected: readonly ExpectedNote[]): (atMs: number) => number {
  const ends = Float64Array.from(expected, note => note.onsetMs + note.durationMs)
  for (let at = 1; at < ends.length; at++) ends[at] = Math.max(ends[at]!, ends[at - 1]!)
  return atMs => ends[noteBy.left(expected, atMs - 1) - 1] ?? -Infinity
}

const noteBy = bisector((note: ExpectedNote) => note.onsetMs)
