import type { Heard, HeardMoment, HeardNote } from '../heard'
import { deviationsOf } from '../heard'
import { onTimeMs } from '../parameters'
import { lineThrough, median, robustMean, robustSpread, slopeOf, type Point } from '../statistics'

export interface Timing {
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  /**
   * Of the right notes the share within `onTimeMs` of when they were due; what swings otherwise than asked is not
   * counted against it.
   */
  onTimeShare: number
  onTimeMs: number
  /**
   * Notes off their time by more than the tolerance although offset, hands and swing are taken off, furthest first; and
   * whether a clean pass may have as many.
   */
  strays: { note: HeardNote; ms: number }[]
  tooManyStrays: boolean
  /** For each right note, what is left of its deviation when offset, hands, swing and tempo are taken off. */
  residuals: { note: HeardNote; ms: number }[]
}

/**
 * A slope is believed when it is this many times its own uncertainty; neighbouring deviations take after each other,
 * which widens it.
 */
const BELIEVED = 4
const CORRELATION = 2
/** Without a click the tempo is the player's own, and only so many times as large a change says anything. */
export const FREE_DRIFT = 6
/**
 * Hands nearer to each other than this are both late by their mean, ms; of hands farther apart the nearer to the click
 * says how late everything is.
 */
const NEAR_HANDS_MS = 25

/**
 * Constant offset, drift and unsteadiness of the right notes, separated by a robust fit: one slope for the whole pass
 * (Theil 1950, Sen 1968), a level of its own after each pause, the rest without outliers. What one hand lies behind the
 * other is taken out first, and what is swung otherwise than asked; they are quantities of their own. Stretches at
 * another tempo are measured from it.
 */
export function timing(heard: Heard, behindMs: number | null, swung: ReadonlyMap<number, number>): Timing {
  const { moments, times, ear, beatMs, steady, tempo } = heard
  // As if the left hand lay behind and the right were in time, until the click says which it is.
  const lag = { left: behindMs ?? 0, right: 0 }
  const swungMs = (note: HeardNote) => swung.get(note.index) ?? 0
  const own = (note: HeardNote) => note.deviationMs! - lag[note.written.hand] - swungMs(note)
  const groups = groupsOf(heard)
  const isOffTempo = (group: readonly HeardMoment[]) => times.isOffTempo(group[0]!.notes[0]!.index)
  const onTempo = groups.filter(group => !isOffTempo(group)).map(group => group.flatMap(({ notes }) => notes))
  const points = onTempo.map(notes => notes.map((note): Point => [note.dueMs, own(note)]))
  const { slope, residuals } = commonSlope(points)
  const firstGroup = onTempo.find(notes => notes.length >= 6) ?? onTempo[0]
  const lateness = (notes: readonly HeardNote[]) =>
    robustMean(notes.map(note => own(note) - slope * (note.dueMs - startMs)))
  const startMs = moments[0]?.dueMs ?? 0
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
  const all = moments.flatMap(moment => moment.notes)
  // A little lateness may be the keyboard's; more is told, and then no note is told again for it.
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
    driftPercent: 100 * (steady ? slope : tempo.heard.sections.length > 0 ? 0 : changeOfTempo(moments, heard)),
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

/** The moments in stretches between pauses, jumps and changes of tempo. */
function groupsOf({ moments, times, alignment }: Heard): HeardMoment[][] {
  const paused = new Set(times.pauses.map(pause => alignment.momentOf[pause.note]!))
  const groups: HeardMoment[][] = []
  moments.forEach((moment, index) => {
    const before = moments[index - 1]
    const isNew =
      !before ||
      paused.has(moment.moment) ||
      moment.run !== before.run ||
      times.beginsAnew(before.notes[0]!.followed, moment.notes[0]!.followed)
    if (isNew) groups.push([])
    groups.at(-1)!.push(moment)
  })
  return groups
}

/**
 * Lines over so many moments, the longest first; and how much more than about the shortest the notes may lie about a
 * longer one.
 */
const TEMPO_REACHES = [Infinity, 81, 41]
const SHORTEST_REACH = 21
const STEADY_ENOUGH = 1.25

/**
 * Unsteadiness without a click: about the steadiest tempo that fits. A line over few moments follows the player's
 * unsteadiness and makes it look smaller; one over many takes a change of tempo for unsteadiness. So the longest that
 * fits about as well is used.
 */
function aboutOwnTempo(
  groups: readonly HeardMoment[][],
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

function restAbout(group: readonly HeardMoment[], reach: number, level: (note: HeardNote) => number): number[] {
  const points = group.map((moment): Point => [moment.atMs, moment.dueMs + moment.deviationMs])
  let line = lineThrough(points.slice(0, Math.min(points.length, reach)))
  return group.flatMap((moment, index) => {
    const from = Math.max(0, Math.min(index - (reach >> 1), points.length - reach))
    if (reach < points.length && index % Math.ceil(reach / 8) === 0)
      line = lineThrough(points.slice(from, from + reach), LOCAL_PAIRS)
    return moment.notes.map(note => note.stroke!.onsetMs - level(note) - (line.intercept + line.slope * moment.atMs))
  })
}

/** A line over few moments needs no more pairs than this; neighbouring moments share it. */
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
  // Each group's own slope, weighed by how much it can say: the square of its length in time.
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
function changeOfTempo(all: readonly HeardMoment[], { times, alignment }: Heard): number {
  // Of a take with restarts, its longest stretch in one go.
  const runs = new Set(all.map(moment => moment.run))
  const moments = [...runs]
    .map(run => all.filter(moment => moment.run === run))
    .reduce((longest, one) => (one.length > longest.length ? one : longest), [])
  if (moments.length < 12) return 0
  const pauseAt = new Map(times.pauses.map(pause => [alignment.momentOf[pause.note]!, pause.ms]))
  let pausedMs = 0
  const points = moments.map((moment): Point => {
    pausedMs += pauseAt.get(moment.moment) ?? 0
    return [moment.atMs, moment.dueMs + moment.deviationMs - pausedMs]
  })
  const half = points.length >> 1
  const [begin, end] = [lineThrough(points.slice(0, half)).slope, lineThrough(points.slice(half)).slope]
  return begin > 0 && end > 0 ? (2 * (end - begin)) / ((end + begin) / 2) : 0
}

/** Without coincidences each hand needs so many notes for its lateness to be compared. */
const LEAST_ALONE = 8
const CERTAIN = 2.5

/**
 * How far the left hand comes behind the right where they have something to strike together, ms; null for fewer than
 * three such places. With a click hands that take turns are compared by how late each comes. `certain`: it is more than
 * chance.
 */
export function leftBehind({ moments, steady, tempo }: Pick<Heard, 'moments' | 'steady' | 'tempo'>): {
  ms: number
  places: { moment: HeardMoment; ms: number }[]
  certain: boolean
} | null {
  const places = moments.flatMap(moment => {
    const [left, right] = [deviationsOf(moment, 'left'), deviationsOf(moment, 'right')]
    return left.length > 0 && right.length > 0 ? [{ moment, ms: median(left) - median(right) }] : []
  })
  if (places.length >= 3) {
    const all = places.map(place => place.ms)
    const ms = median(all)
    return { ms, places, certain: Math.abs(ms) > (CERTAIN * robustSpread(all)) / Math.sqrt(all.length) }
  }
  if (!steady || tempo.heard.sections.length > 0 || tempo.heard.whole !== undefined) return null
  const [left, right] = [
    moments.flatMap(moment => deviationsOf(moment, 'left')),
    moments.flatMap(moment => deviationsOf(moment, 'right')),
  ]
  if (left.length < LEAST_ALONE || right.length < LEAST_ALONE) return null
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
