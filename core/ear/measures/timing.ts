import type { Heard, HeardMoment, HeardNote } from '../heard'
import { deviationsOf } from '../heard'
import { onTimeMs } from '../parameters'
import { lineThrough, middle, robustMean, robustSpread, slopeOf, type Point } from '../statistics'

export interface Timing {
  offsetMs: number
  driftPercent: number
  unsteadinessMs: number
  onTimeShare: number
  onTimeMs: number
  /** Notes off their time by more than the tolerance, furthest first; and whether a clean pass may have as many. */
  strays: { note: HeardNote, ms: number }[]
  tooManyStrays: boolean
}

/** A slope is believed when it is this many times its own uncertainty; neighbouring deviations take after each other, which widens it. */
const BELIEVED = 4
const CORRELATION = 2
/** A constant lateness up to here may be the keyboard's own, ms (common practice: USB keyboards answer within 5, wireless ones within 100). */
const KEYBOARD_DELAY_MS = 120

/**
 * Constant offset, drift and unsteadiness of the right notes, separated by a robust fit: one slope for the whole pass (Theil 1950,
 * Sen 1968), a level of its own after each pause, the rest without outliers. What one hand lies behind the other is taken out
 * first; it is a quantity of its own.
 */
export function timing(heard: Heard, leftBehindMs: number | null): Timing {
  const { moments, times, ear, beatMs, steady, alignment } = heard
  const level = (hand: 'left' | 'right') => leftBehindMs === null ? 0 : (hand === 'left' ? leftBehindMs : -leftBehindMs) / 2
  const paused = new Set(times.pauses.map(pause => alignment.momentOf[pause.note]!))
  const groups: Point[][] = []
  moments.forEach((moment, index) => {
    if (index === 0 || paused.has(moment.moment) || moment.run !== moments[index - 1]!.run) groups.push([])
    for (const { dueMs, deviationMs, written } of moment.notes) groups.at(-1)!.push([dueMs, deviationMs! - level(written.hand)])
  })
  const { slope, residuals } = commonSlope(groups)
  const first = groups.find(group => group.length >= 6) ?? groups[0] ?? []
  const startMs = moments[0]?.dueMs ?? 0
  const offsetMs = steady ? robustMean(first.map(([at, deviation]) => deviation - slope * (at - startMs))) : 0
  const toleranceMs = onTimeMs(ear, beatMs)
  const excused = offsetMs > 0 && offsetMs <= KEYBOARD_DELAY_MS ? offsetMs : 0
  const all = moments.flatMap(moment => moment.notes)
  const strays = all.map(note => ({ note, ms: note.deviationMs! - excused })).filter(({ ms }) => Math.abs(ms) > toleranceMs)
    .sort((a, b) => Math.abs(b.ms) - Math.abs(a.ms))
  const allowed = Math.max(1, Math.floor((1 - ear.tolerances.cleanOnTimeShare) * all.length))
  return {
    offsetMs,
    driftPercent: 100 * (steady ? slope : changeOfTempo(moments, heard)),
    unsteadinessMs: steady ? robustSpread(residuals.flat()) : aboutOwnTempo(moments, paused, level),
    onTimeMs: toleranceMs,
    onTimeShare: all.length === 0 ? 0 : 1 - strays.length / all.length,
    strays,
    tooManyStrays: strays.length > allowed || (strays[0] !== undefined && Math.abs(strays[0].ms) > 2 * toleranceMs),
  }
}

/** Lines over so many moments, the longest first; and how much more than about the shortest the notes may lie about a longer one. */
const TEMPO_REACHES = [Infinity, 81, 41]
const SHORTEST_REACH = 21
const STEADY_ENOUGH = 1.25

/**
 * Unsteadiness without a click: about the steadiest tempo that fits. A line over few moments follows the player's unsteadiness and
 * makes it look smaller; one over many takes a change of tempo for unsteadiness. So the longest that fits about as well is used.
 */
function aboutOwnTempo(moments: readonly HeardMoment[], paused: ReadonlySet<number>, level: (hand: 'left' | 'right') => number): number {
  const groups: HeardMoment[][] = []
  moments.forEach((moment, index) => {
    if (index === 0 || paused.has(moment.moment) || moment.run !== moments[index - 1]!.run) groups.push([])
    groups.at(-1)!.push(moment)
  })
  const spreadAbout = (reach: number) => robustSpread(groups.filter(group => group.length >= 4).flatMap(group => restAbout(group, reach, level)))
  const least = spreadAbout(SHORTEST_REACH)
  for (const reach of TEMPO_REACHES) {
    const spread = spreadAbout(reach)
    if (spread <= STEADY_ENOUGH * least) return spread
  }
  return least
}

function restAbout(group: readonly HeardMoment[], reach: number, level: (hand: 'left' | 'right') => number): number[] {
  const points = group.map((moment): Point => [moment.atMs, moment.dueMs + moment.deviationMs])
  let line = lineThrough(points.slice(0, Math.min(points.length, reach)))
  return group.flatMap((moment, index) => {
    const from = Math.max(0, Math.min(index - (reach >> 1), points.length - reach))
    if (reach < points.length && index % Math.ceil(reach / 8) === 0) line = lineThrough(points.slice(from, from + reach), LOCAL_PAIRS)
    return moment.notes.map(note => note.stroke!.onsetMs - level(note.written.hand) - (line.intercept + line.slope * moment.atMs))
  })
}

/** A line over few moments needs no more pairs than this; neighbouring moments share it. */
const LOCAL_PAIRS = 300

function commonSlope(groups: readonly Point[][]): { slope: number, residuals: number[][] } {
  const rest = (slope: number) => groups.map((group) => {
    const levels = group.map(([at, deviation]) => deviation - slope * at)
    const centre = middle(levels)
    return levels.map(one => one - centre)
  })
  const longest = groups.filter(group => group.length >= 4)
  if (longest.length === 0) return { slope: 0, residuals: rest(0) }
  // Each group's own slope, weighed by how much it can say: the square of its length in time.
  const slopes = longest.map(group => ({ slope: slopeOf(group), weight: (group.at(-1)![0] - group[0]![0]) ** 2 * group.length })).filter(one => Number.isFinite(one.slope))
  const total = slopes.reduce((sum, { weight }) => sum + weight, 0)
  const slope = total > 0 ? slopes.reduce((sum, one) => sum + one.slope * one.weight, 0) / total : 0
  const residuals = rest(slope)
  const times = longest.flatMap((group) => {
    const centre = middle(group.map(([at]) => at))
    return group.map(([at]) => (at - centre) ** 2)
  })
  const uncertainty = CORRELATION * robustSpread(residuals.flat()) / Math.sqrt(Math.max(1, times.reduce((sum, one) => sum + one, 0)))
  return Math.abs(slope) > BELIEVED * uncertainty ? { slope, residuals } : { slope: 0, residuals: rest(0) }
}

/** In a take without a click: how much slower (+) or faster (−) its second half is than its first, as a share, over the whole length. */
function changeOfTempo(all: readonly HeardMoment[], { times, alignment }: Heard): number {
  // Of a take with restarts, its longest stretch in one go.
  const runs = new Set(all.map(moment => moment.run))
  const moments = [...runs].map(run => all.filter(moment => moment.run === run)).reduce((longest, one) => one.length > longest.length ? one : longest, [])
  if (moments.length < 12) return 0
  const pauseAt = new Map(times.pauses.map(pause => [alignment.momentOf[pause.note]!, pause.ms]))
  let pausedMs = 0
  const points = moments.map((moment): Point => {
    pausedMs += pauseAt.get(moment.moment) ?? 0
    return [moment.atMs, moment.dueMs + moment.deviationMs - pausedMs]
  })
  const half = points.length >> 1
  const [begin, end] = [lineThrough(points.slice(0, half)).slope, lineThrough(points.slice(half)).slope]
  return begin > 0 && end > 0 ? 2 * (end - begin) / ((end + begin) / 2) : 0
}

/** How far the left hand comes behind the right where they have something to strike together; null for fewer than three such places. */
export function leftBehind(moments: readonly HeardMoment[]): { ms: number, places: { moment: HeardMoment, ms: number }[], certain: boolean } | null {
  const places = moments.flatMap((moment) => {
    const [left, right] = [deviationsOf(moment, 'left'), deviationsOf(moment, 'right')]
    return left.length > 0 && right.length > 0 ? [{ moment, ms: middle(left) - middle(right) }] : []
  })
  if (places.length < 3) return null
  const all = places.map(place => place.ms)
  const ms = middle(all)
  return { ms, places, certain: Math.abs(ms) > 2.5 * robustSpread(all) / Math.sqrt(all.length) }
}
