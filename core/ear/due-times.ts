import type { ExpectedNote } from '../music/passage'
import type { Alignment } from './align'
import type { EarParameters } from './parameters'
import type { Anchor } from './player-clock'
import { lineThrough, middle, type Point } from './statistics'
import type { TakeNote } from './take'

/** A pause between two moments that were played one after the other. */
export interface Pause {
  /** A note of the moment that came late, and one of the moment before it, by index. */
  note: number
  before: number
  /** How much longer than the local tempo asks, ms. */
  ms: number
}

export interface DueTimes {
  /** For each expected note, when it was due, ms on the take's clock. */
  dueMs: Float64Array
  /** Overall tempo: played ms for one ms of score time. */
  stretch: number
  pauses: Pause[]
  /** Steady takes: how many beats or ms behind the click each run was, having stopped or skipped; 0 for one that kept to it. */
  shifts: number[]
}

/**
 * When each note was due. With a click that is the click; a stretch taken up again after a stop is measured from the click
 * it fell in with. Without, it is the player's own local tempo: a line through the moments around, never across a pause.
 */
export function dueTimes(expected: readonly ExpectedNote[], played: readonly TakeNote[], alignment: Alignment, steady: boolean, beatMs: number, ear: EarParameters): DueTimes {
  const { followed } = alignment
  const { attempts, momentOf } = followed
  const pauses = pausesOf(followed, steady, ear)
  const dueMs = new Float64Array(expected.length)
  if (steady) {
    const shifts = attempts.runs.map((_, run) => run === 0 ? 0 : behindClick(run, expected, played, alignment, beatMs))
    expected.forEach((note, index) => { dueMs[index] = note.onsetMs + (shifts[attempts.runOfMoment[momentOf[index]!]!] ?? 0) })
    return { dueMs, stretch: 1, pauses, shifts }
  }
  const stretch = overallStretch(followed, pauses)
  const due = ownTempo(followed, pauses, stretch, ear)
  expected.forEach((note, index) => {
    const lagMs = alignment.loose?.hand === note.hand ? alignment.loose.lagMs : 0
    dueMs[index] = due(momentOf[index]!) - lagMs - (note.momentMs - note.onsetMs) * stretch
  })
  return { dueMs, stretch, pauses, shifts: attempts.runs.map(() => 0) }
}

/** The level before a pause is taken from so many moments, the tempo before it from so many steps. */
const LEVEL_MOMENTS = 4
const TEMPO_STEPS = 8

/**
 * Where a moment comes later than the moments before it and their tempo explain. What comes after says nothing: a player who
 * has paused hurries.
 */
function pausesOf({ clock, moments }: Alignment['followed'], steady: boolean, { tolerances }: EarParameters): Pause[] {
  const leastMs = Math.max(tolerances.hesitationMinMs, tolerances.hesitationSpreads * clock.unsteadinessMs)
  const at = (anchor: Anchor) => moments[anchor.moment]!.atMs
  return clock.anchors.flatMap((list) => {
    const pauses: Pause[] = []
    let since = 0
    list.forEach((anchor, index) => {
      const before = list[index - 1]
      if (!before) return
      const around = steady ? 1 : clock.ratio(anchor.moment)
      // Most steps are nowhere near a pause.
      if (anchor.atMs - before.atMs - around * (at(anchor) - at(before)) <= leastMs) return
      const steps = list.slice(Math.max(since, index - TEMPO_STEPS), index)
      const ratio = steady || steps.length < 4
        ? around
        : middle(steps.slice(1).map((one, step) => (one.atMs - steps[step]!.atMs) / (at(one) - at(steps[step]!))))
      const lateBy = (one: Anchor, tempo: number) => anchor.atMs - one.atMs - tempo * (at(anchor) - at(one))
      const level = list.slice(Math.max(since, index - LEVEL_MOMENTS), index)
      // One late note before must not hide a pause, nor one early note or a hurried stretch make one.
      const least = Math.max(ratio, around)
      const tolerance = Math.max(leastMs, Math.min(tolerances.hesitationMaxMs, tolerances.hesitationShare * ratio * (at(anchor) - at(before))))
      if (Math.min(lateBy(before, least), middle(level.map(one => lateBy(one, least)))) <= tolerance) return
      // People drift about the beat: the next note takes after the last one by about a half.
      pauses.push({ note: moments[anchor.moment]!.notes[0]!, before: moments[before.moment]!.notes[0]!, ms: (lateBy(before, ratio) + middle(level.map(one => lateBy(one, ratio)))) / 2 })
      since = index
    })
    return pauses
  })
}

/** How far behind the click a run went on, ms: nothing, whole beats where it fell in with the click again, or what it was. */
function behindClick(run: number, expected: readonly ExpectedNote[], played: readonly TakeNote[], { outcomes, followed: { attempts, momentOf } }: Alignment, beatMs: number): number {
  const late = middle(outcomes.flatMap(({ outcome, played: stroke }, index) =>
    outcome === 'right' && attempts.runOfMoment[momentOf[index]!] === run ? [played[stroke!]!.onsetMs - expected[index]!.onsetMs] : []))
  if (Math.abs(late) < 0.5 * beatMs) return 0
  const beats = Math.round(late / beatMs) * beatMs
  return Math.abs(late - beats) < 0.25 * beatMs ? beats : late
}

/** The slope of take over score time with the pauses taken out. */
function overallStretch({ clock, moments, momentOf }: Alignment['followed'], pauses: readonly Pause[]): number {
  const pauseAt = new Map(pauses.map(pause => [momentOf[pause.note]!, pause.ms]))
  let best: readonly Anchor[] = []
  for (const list of clock.anchors) if (list.length > best.length) best = list
  let pausedMs = 0
  const points = best.map((anchor): Point => {
    pausedMs += pauseAt.get(anchor.moment) ?? 0
    return [moments[anchor.moment]!.atMs, anchor.atMs - pausedMs]
  })
  const { slope } = lineThrough(points)
  return slope > LEAST_STRETCH && slope < 1 / LEAST_STRETCH ? slope : 1
}

/** Nobody plays twenty times as fast or slow as written; what would say so is no playing of this music. */
const LEAST_STRETCH = 0.05

const LINE_STRIDE = 3
/** How much farther from a long line than from a short one notes may lie before the tempo is taken to bend. */
const BENT = 1.6

/**
 * The player's own tempo: lines over many moments, which a single note cannot pull; over few where the tempo bends so much that
 * long lines would call the player early and late.
 */
function ownTempo(followed: Alignment['followed'], pauses: readonly Pause[], stretch: number, ear: EarParameters): (moment: number) => number {
  const offBy = (due: (moment: number) => number) => middle(followed.clock.anchors.flat().map(anchor => Math.abs(anchor.atMs - due(anchor.moment))))
  const long = localTempo(followed, pauses, stretch, ear.localTempoMoments)
  const short = localTempo(followed, pauses, stretch, ear.bendingTempoMoments)
  return offBy(long) > BENT * offBy(short) + 1 ? short : long
}

/** When a moment is due in a take without a click. */
function localTempo({ clock, moments, momentOf }: Alignment['followed'], pauses: readonly Pause[], stretch: number, reach: number): (moment: number) => number {
  const paused = new Set(pauses.map(pause => momentOf[pause.note]!))
  const stretches: Anchor[][] = []
  for (const list of clock.anchors) {
    list.forEach((anchor, index) => {
      if (index === 0 || paused.has(anchor.moment)) stretches.push([anchor])
      else stretches.at(-1)!.push(anchor)
    })
  }
  const at = (anchor: Anchor) => moments[anchor.moment]!.atMs
  const lineAt = (list: readonly Anchor[], index: number) => {
    const from = Math.max(0, Math.min(index - (reach >> 1), list.length - reach))
    const near = list.slice(from, from + reach)
    return near.length < 4
      ? { slope: stretch, intercept: middle(near.map(one => one.atMs - stretch * at(one))) }
      : lineThrough(near.map((one): Point => [at(one), one.atMs]))
  }
  // Neighbouring moments share a line.
  const lines = stretches.map((list) => {
    let line = lineAt(list, 0)
    return list.map((_, index) => index % LINE_STRIDE === 1 ? line = lineAt(list, index + 1) : line)
  })
  // For each moment the nearest anchor at or before it, or the first.
  const nearest = new Map<number, { slope: number, intercept: number }>()
  stretches.forEach((list, index) => list.forEach((anchor, place) => nearest.set(anchor.moment, lines[index]![place]!)))
  let last = lines[0]?.[0] ?? { slope: stretch, intercept: 0 }
  const due = Float64Array.from(moments, ({ atMs }, moment) => {
    last = nearest.get(moment) ?? last
    return last.intercept + last.slope * atMs
  })
  return moment => due[moment]!
}
