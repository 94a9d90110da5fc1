import type { Heard, HeardEvent, HeardNote } from '../heard'
import { deviationsOf } from '../heard'
import { onTimeMs } from '../parameters'
import { lineThrough, median, robustMean, robustSpread, slopeOf, type Point } from '../statistics'

export interface Timing {
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  /** Share of the right notes within `onTimeMs` of when they were due; a different swing is not counted against it. */
  onTimeShare: number
  onTimeMs: number
  /**
   * Notes off their time by more than the tolerance after subtracting offset, hands and swing, furthest first; and
   * whether there are more than a clean pass may have.
   */
  strays: { note: HeardNote; ms: number }[]
  tooManyStrays: boolean
  /** For each right note, the deviation left after subtracting offset, hands, swing and tempo. */
  residuals: { note: HeardNote; ms: number }[]
}

/** A slope must be this multiple of its uncertainty; correlation between neighbours widens it. */
const BELIEVED = 4
const CORRELATION = 2
/** Without a click the tempo is the player's own, and only a change this many times larger is reported. */
export const FREE_DRIFT = 6
/** Hands nearer than this share one offset, their mean, ms; otherwise the hand nearer to the click gives the offset. */
const NEAR_HANDS_MS = 25

/**
 * Constant offset, drift and unsteadiness of the right notes, separated by a robust fit: one slope for the whole pass
 * (Theil 1950, Sen 1968), a level of its own after each pause, the rest without outliers. A lag of one hand and a
 * different swing are subtracted first; they are quantities of their own. Segments at another tempo are measured from
 * it.
 */
export function timing(heard: Heard, behindMs: number | null, swung: ReadonlyMap<number, number>): Timing {
  const { events, times, ear, beatMs, steady, tempo } = heard
  // Assume that the left hand lags and the right is in time, until the click shows which.
  const lag = { left: behindMs ?? 0, right: 0 }
  const swungMs = (note: HeardNote) => swung.get(note.index) ?? 0
  const own = (note: HeardNote) => note.deviationMs! - lag[note.written.hand] - swungMs(note)
  const groups = groupsOf(heard)
  const isOffTempo = (group: readonly HeardEvent[]) => times.isOffTempo(group[0]!.notes[0]!.index)
  const onTempo = groups.filter(group => !isOffTempo(group)).map(group => group.flatMap(({ notes }) => notes))
  const points = onTempo.map(notes => notes.map((note): Point => [note.dueMs, own(note)]))
  const { slope, residuals } = commonSlope(points)
  const firstGroup = onTempo.find(notes => notes.length >= 6) ?? onTempo[0]
  const lateness = (notes: readonly HeardNote[]) =>
    robustMean(notes.map(note => own(note) - slope * (note.dueMs - startMs)))
  const startMs = events[0]?.dueMs ?? 0
  if (steady && firstGroup) {
    const right = lateness(firstGroup)
    const left = right + lag.left
    const isNear = Math.abs(lag.left) <= NEAR_HANDS_MS
    const common =
      behindMs === null
        ? right
        : isNear
          ? (right + left) / 2
          : Math.sign(left) !== Math.sign(right)
            ? 0
            : Math.abs(left) < Math.abs(right)
              ? left
              : right
    lag.right = right - common
    lag.left = left - common
  } else [lag.left, lag.right] = [lag.left / 2, -lag.left / 2]
  const offsetMs = steady && firstGroup ? lateness(firstGroup) : 0
  const toleranceMs = onTimeMs(ear, beatMs)
  const all = events.flatMap(event => event.notes)
  // A small offset may be the keyboard's; a larger one is reported, and its notes are not reported again.
  const isTold = Math.abs(offsetMs) > ear.tolerances.offsetShare * toleranceMs
  const excused = isTold ? 0 : Math.max(0, offsetMs)
  const level = isTold ? offsetMs : excused
  const off = (note: HeardNote) => own(note) - level
  const strays = all
    .map(note => ({ note, ms: off(note) }))
    .filter(({ ms }) => Math.abs(ms) > toleranceMs)
    .sort((a, b) => Math.abs(b.ms) - Math.abs(a.ms))
  const onTime = all.filter(
    note => Math.abs(note.deviationMs! - swungMs(note) - excused) <= toleranceMs && !times.isOffTempo(note.index),
  ).length
  const allowed = Math.max(1, Math.floor((1 - ear.tolerances.cleanOnTimeShare) * all.length))
  const offTempo = groups.filter(isOffTempo).flatMap(group => group.flatMap(({ notes }) => notes.map(own)))
  return {
    offsetMs,
    driftPercent: 100 * (steady ? slope : tempo.heard.sections.length > 0 ? 0 : changeOfTempo(events, heard)),
    unsteadinessMs: steady
      ? robustSpread([...residuals.flat(), ...offTempo])
      : aboutOwnTempo(groups, swung, hand => lag[hand]),
    onTimeMs: toleranceMs,
    onTimeShare: all.length === 0 ? 0 : onTime / all.length,
    strays,
    tooManyStrays: strays.length > allowed || (strays[0] !== undefined && Math.abs(strays[0].ms) > 2 * toleranceMs),
    residuals: all.map(note => ({ note, ms: own(note) - offsetMs - slope * (note.dueMs - startMs) })),
  }
}

/** The events in groups between pauses, jumps and changes of tempo. */
function groupsOf({ events, times, alignment }: Heard): HeardEvent[][] {
  const paused = new Set(times.pauses.map(pause => alignment.eventOf[pause.note]!))
  const groups: HeardEvent[][] = []
  events.forEach((event, index) => {
    const before = events[index - 1]
    const isNew =
      !before ||
      paused.has(event.event) ||
      event.run !== before.run ||
      times.beginsAnew(before.notes[0]!.followed, event.notes[0]!.followed)
    if (isNew) groups.push([])
    groups.at(-1)!.push(event)
  })
  return groups
}

/**
 * Lengths of the lines fitted, longest first, in events; and how much larger the residuals about a longer line may be
 * than about the shortest.
 */
const TEMPO_REACHES = [Infinity, 81, 41]
const SHORTEST_REACH = 21
const STEADY_ENOUGH = 1.25

/**
 * Unsteadiness without a click, about the steadiest tempo that fits. A line over few events follows the player's
 * unsteadiness and hides it; one over many takes a change of tempo for unsteadiness. So the longest that fits about as
 * well is used.
 */
function aboutOwnTempo(
  groups: readonly HeardEvent[][],
  swung: ReadonlyMap<number, number>,
  lag: (hand: 'left' | 'right') => number,
): number {
  const level = ({ written, index }: HeardNote) => lag(written.hand) + (swung.get(index) ?? 0)
  const spreadAbout = (reach: number) =>
    robustSpread(groups.filter(group => group.length >= 4).flatMap(group => restAbout(group, reach, level)))
  const least = spreadAbout(SHORTEST_REACH)
  for (const reach of TEMPO_REACHES) {
    const spread = spreadAbout(reach)
    if (spread <= STEADY_ENOUGH * least) return spread
  }
  return least
}

function restAbout(group: readonly HeardEvent[], reach: number, level: (note: HeardNote) => number): number[] {
  const points = group.map((event): Point => [event.atMs, event.dueMs + event.deviationMs])
  let line = lineThrough(points.slice(0, Math.min(points.length, reach)))
  return group.flatMap((event, index) => {
    const from = Math.max(0, Math.min(index - (reach >> 1), points.length - reach))
    if (reach < points.length && index % Math.ceil(reach / 8) === 0)
      line = lineThrough(points.slice(from, from + reach), LOCAL_PAIRS)
    return event.notes.map(note => note.stroke!.onsetMs - level(note) - (line.intercept + line.slope * event.atMs))
  })
}

/** Pairs that are enough for a line over few events; neighbouring events share it. */
const LOCAL_PAIRS = 300

function commonSlope(groups: readonly Point[][]): { slope: number; residuals: number[][] } {
  const rest = (slope: number) =>
    groups.map(group => {
      const levels = group.map(([at, deviation]) => deviation - slope * at)
      const centre = median(levels)
      return levels.map(one => one - centre)
    })
  const longest = groups.filter(group => group.length >= 4)
  if (longest.length === 0) return { slope: 0, residuals: rest(0) }
  // Each group's own slope, weighted by the square of its length in time.
  const slopes = longest
    .map(group => ({ slope: slopeOf(group), weight: (group.at(-1)![0] - group[0]![0]) ** 2 * group.length }))
    .filter(one => Number.isFinite(one.slope))
  const total = slopes.reduce((sum, { weight }) => sum + weight, 0)
  const slope = total > 0 ? slopes.reduce((sum, one) => sum + one.slope * one.weight, 0) / total : 0
  const residuals = rest(slope)
  const times = longest.flatMap(group => {
    const centre = median(group.map(([at]) => at))
    return group.map(([at]) => (at - centre) ** 2)
  })
  const uncertainty =
    (CORRELATION * robustSpread(residuals.flat())) /
    Math.sqrt(
      Math.max(
        1,
        times.reduce((sum, one) => sum + one, 0),
      ),
    )
  return Math.abs(slope) > BELIEVED * uncertainty ? { slope, residuals } : { slope: 0, residuals: rest(0) }
}

/**
 * In a take without a click: how much slower (+) or faster (−) its second half is than its first, as a share, over the
 * whole length.
 */
function changeOfTempo(all: readonly HeardEvent[], { times, alignment }: Heard): number {
  // In a take with restarts, its longest run.
  const runs = new Set(all.map(event => event.run))
  const events = [...runs]
    .map(run => all.filter(event => event.run === run))
    .reduce((longest, one) => (one.length > longest.length ? one : longest), [])
  if (events.length < 12) return 0
  const pauseAt = new Map(times.pauses.map(pause => [alignment.eventOf[pause.note]!, pause.ms]))
  let pausedMs = 0
  const points = events.map((event): Point => {
    pausedMs += pauseAt.get(event.event) ?? 0
    return [event.atMs, event.dueMs + event.deviationMs - pausedMs]
  })
  const half = points.length >> 1
  const [begin, end] = [lineThrough(points.slice(0, half)).slope, lineThrough(points.slice(half)).slope]
  return begin > 0 && end > 0 ? (2 * (end - begin)) / ((end + begin) / 2) : 0
}

/** Notes each hand needs for a comparison without coincidences. */
const MIN_ALONE = 8
const CERTAIN = 2.5

/**
 * How far the left hand comes behind the right at their coincidences, ms; null for fewer than three. With a click,
 * alternating hands are compared by how late each comes. `certain`: beyond chance.
 */
export function leftBehind({ events, steady, tempo }: Pick<Heard, 'events' | 'steady' | 'tempo'>): {
  ms: number
  places: { event: HeardEvent; ms: number }[]
  certain: boolean
} | null {
  const places = events.flatMap(event => {
    const [left, right] = [deviationsOf(event, 'left'), deviationsOf(event, 'right')]
    return left.length > 0 && right.length > 0 ? [{ event, ms: median(left) - median(right) }] : []
  })
  if (places.length >= 3) {
    const all = places.map(place => place.ms)
    const ms = median(all)
    return { ms, places, certain: Math.abs(ms) > (CERTAIN * robustSpread(all)) / Math.sqrt(all.length) }
  }
  if (!steady || tempo.heard.sections.length > 0 || tempo.heard.whole !== undefined) return null
  const [left, right] = [
    events.flatMap(event => deviationsOf(event, 'left')),
    events.flatMap(event => deviationsOf(event, 'right')),
  ]
  if (left.length < MIN_ALONE || right.length < MIN_ALONE) return null
  const ms = robustMean(left) - robustMean(right)
  return {
    ms,
    places: [],
    certain:
      Math.abs(ms) >
      2 *
        CERTAIN *
        Math.hypot(robustSpread(left) / Math.sqrt(left.length), robustSpread(right) / Math.sqrt(right.length)),
  }
}
