import { group } from 'd3-array'
import type { ExpectedNote } from '../music/passage'
import type { Alignment } from './align'
import type { EarParameters } from './parameters'
import type { Anchor } from './player-clock'
import { lineThrough, median, type Point } from './statistics'
import type { PlayedMoment, TempoBreak, TempoCourse, TempoStretch } from './tempo-course'
import type { TempoHeard } from './tempo-heard'
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
  /** For each expected note, played ms for one ms of score time about it. */
  ratio: Float64Array
  /** Overall tempo: played ms for one ms of score time; 1 with a click. */
  stretch: number
  pauses: Pause[]
  /**
   * Steady takes: for each run, how many ms behind the click it went on, having stopped, skipped or come in late; 0 for
   * one that kept to it.
   */
  shifts: number[]
  /** Whether a note fell in a stretch at another tempo than the click's. */
  isOffTempo: (note: number) => boolean
  /** Whether between two followed moments another tempo began, a beat was lost or the player came in late. */
  beginsAnew: (before: number, here: number) => boolean
}

/** How the take went in time, as read off its notes. */
export interface TempoOfTake {
  course: TempoCourse
  heard: TempoHeard
}

/**
 * When each note was due. With a click that is the click; a stretch taken up again after a stop, after a lost beat or a
 * late entry is measured from the click it fell in with, and one played at another tempo from its own. Without, it is
 * the player's own local tempo: a line through the moments around, never across a pause or a change of tempo.
 */
export function dueTimes(
  expected: readonly ExpectedNote[],
  played: readonly TakeNote[],
  alignment: Alignment,
  tempo: TempoOfTake,
  steady: boolean,
  beatMs: number,
  ear: EarParameters,
): DueTimes {
  const { followed } = alignment
  const { attempts, momentOf } = followed
  const where = placeInCourse(followed, tempo, ear)
  const pauses = pausesOf(followed, tempo.course, where, steady, ear)
  const dueMs = new Float64Array(expected.length)
  const ratio = new Float64Array(expected.length)
  const isOffTempo = (note: number) => steady && where.isOff(momentOf[note]!)
  const beginsAnew = (before: number, here: number) => isAmong(where.begins, before, here)
  if (steady) {
    const runShifts = attempts.runs.map((_, run) =>
      run === 0 ? 0 : behindClick(run, expected, played, alignment, beatMs),
    )
    const behind = behindAt(followed, tempo, where, runShifts, beatMs)
    expected.forEach((note, index) => {
      const moment = momentOf[index]!
      const stretch = where.isOff(moment) ? where.stretchOf(moment) : undefined
      ratio[index] = stretch?.ratio ?? 1
      dueMs[index] = stretch
        ? stretch.levelMs +
          where.goneMs(moment) +
          stretch.ratio * followed.moments[moment]!.atMs -
          (note.momentMs - note.onsetMs) * stretch.ratio
        : note.onsetMs + behind(moment)
    })
    return {
      dueMs,
      ratio,
      stretch: 1,
      pauses,
      shifts: attempts.runs.map((run, index) => (index === 0 ? behind(run.firstMoment) : runShifts[index]!)),
      isOffTempo,
      beginsAnew,
    }
  }
  const stretch = tempo.heard.sections.length > 0 ? tempo.course.usual : overallStretch(followed, pauses)
  const due = ownTempo(followed, pauses, where, stretch, ear)
  expected.forEach((note, index) => {
    const lagMs = alignment.loose?.hand === note.hand ? alignment.loose.lagMs : 0
    ratio[index] = tempo.heard.sections.length > 0 ? (where.stretchOf(momentOf[index]!)?.ratio ?? stretch) : stretch
    dueMs[index] = due(momentOf[index]!) - lagMs - (note.momentMs - note.onsetMs) * stretch
  })
  return { dueMs, ratio, stretch, pauses, shifts: attempts.runs.map(() => 0), isOffTempo, beginsAnew }
}

type Followed = Alignment['followed']

/** Whether one of the moments lies behind `before` and not behind `here`. */
function isAmong(moments: ReadonlySet<number>, before: number, here: number): boolean {
  for (let moment = before + 1; moment <= here; moment++) if (moments.has(moment)) return true
  return false
}

/** Where each moment lies in the course of the tempo. */
interface PlaceInCourse {
  stretchOf: (moment: number) => TempoStretch | undefined
  /** Whether its stretch went at another tempo than the click's. */
  isOff: (moment: number) => boolean
  /** How much the breaks of its stretch before it add up to, ms. */
  goneMs: (moment: number) => number
  /** Moments before which a new stretch begins, or a step that is no pause but a lost beat or an entry. */
  begins: ReadonlySet<number>
  /** The moments beside a change of tempo: a step there is of neither, and no pause. */
  changes: ReadonlySet<number>
}

function placeInCourse(
  { moments, attempts }: Followed,
  { course, heard }: TempoOfTake,
  ear: EarParameters,
): PlaceInCourse {
  const { played, stretches, breaks } = course
  const stretchAt = new Int32Array(moments.length).fill(-1)
  const gone = new Float64Array(moments.length)
  const begins = new Set<number>()
  const changes = new Set<number>()
  stretches.forEach(({ first, last, run }, index) => {
    const startsRun = stretches[index - 1]?.run !== run
    const endsRun = stretches[index + 1]?.run !== run
    const from = startsRun ? attempts.runs[run]!.firstMoment : played[first]!.moment
    const to = endsRun ? attempts.runs[run]!.lastMoment : played[last]!.moment - 1
    if (!startsRun) {
      begins.add(played[first]!.moment)
      for (const beside of [first, first + 1, first + 2])
        if (played[beside]?.run === run) changes.add(played[beside]!.moment)
    }
    for (let moment = from; moment <= to; moment++) if (attempts.runOfMoment[moment] === run) stretchAt[moment] = index
  })
  const own = new Map<number, TempoBreak[]>()
  for (const one of breaks) own.set(one.stretch, [...(own.get(one.stretch) ?? []), one])
  own.forEach((list, stretch) => {
    const { run, last } = stretches[stretch]!
    let sum = 0
    list.forEach((one, index) => {
      sum += one.ms
      const until = list[index + 1]
        ? played[list[index + 1]!.at]!.moment
        : stretches[stretch + 1]?.run === run
          ? played[last]!.moment
          : attempts.runs[run]!.lastMoment + 1
      for (let moment = played[one.at]!.moment; moment < until; moment++) gone[moment] = sum
    })
  })
  for (const index of heard.explained.keys()) begins.add(played[breaks[index]!.at]!.moment)
  return {
    stretchOf: moment => stretches[stretchAt[moment]!],
    isOff: moment => {
      const stretch = stretches[stretchAt[moment]!]
      return stretch !== undefined && Math.abs(Math.log(stretch.ratio)) > ear.tempo.otherTempo
    },
    goneMs: moment => gone[moment]!,
    begins,
    changes,
  }
}

/**
 * So many moments say where the player is against the click, beginning so many after a break: who has stopped may still
 * be catching up.
 */
const LEVEL_READ = 10
const CATCHING_UP = 3

/**
 * How far behind the click each moment is to be measured from, ms: nothing while the player keeps to it; whole beats,
 * or what it is, after a beat was lost, a late entry, or a stretch of another tempo.
 */
function behindAt(
  { moments, attempts }: Followed,
  { course, heard }: TempoOfTake,
  where: PlaceInCourse,
  runShifts: readonly number[],
  beatMs: number,
): (moment: number) => number {
  const { played, stretches, breaks } = course
  const behind = new Float64Array(moments.length)
  const breakAt = new Map(breaks.map((one, index) => [one.at, { ...one, exactMs: heard.explained.get(index) }]))
  const entry = heard.entries.find(one => one.breakAt === undefined)
  const late = (from: number, to: number) => median(played.slice(from, to).map(one => one.takeMs - one.atMs))
  let shift = 0
  let run = -1
  stretches.forEach((stretch, index) => {
    const { first, last } = stretch
    const startsRun = stretch.run !== run
    if (startsRun) {
      run = stretch.run
      shift = entry && first === 0 ? inBeats(entry.ms, beatMs) : runShifts[run]!
    } else if (!where.isOff(played[first]!.moment))
      shift = fallenBehind(late(first, Math.min(last, first + LEVEL_READ)), beatMs)
    for (let at = first; at <= last; at++) {
      const one = breakAt.get(at)
      if (one?.stretch === index && one.exactMs !== undefined) shift += one.exactMs
      else if (one && one.stretch === index && Math.abs(one.ms) >= 0.5 * beatMs) {
        let end = at + 1
        while (
          end <= last &&
          end < at + LEVEL_READ &&
          !(breakAt.has(end) && Math.abs(breakAt.get(end)!.ms) >= 0.5 * beatMs)
        )
          end++
        const from = end - at > CATCHING_UP ? at + CATCHING_UP : at
        const more = late(from, end) - late(Math.max(first, at - 4), at)
        if (Math.abs(more) >= 0.5 * beatMs) shift += inBeats(more, beatMs)
      }
      const until = played[at + 1]?.run === run ? played[at + 1]!.moment : attempts.runs[run]!.lastMoment + 1
      for (
        let moment = startsRun && at === first ? attempts.runs[run]!.firstMoment : played[at]!.moment;
        moment < until;
        moment++
      ) {
        if (attempts.runOfMoment[moment] === run) behind[moment] = shift
      }
    }
  })
  // What was not played lies where the moments before it do.
  for (let moment = 1; moment < moments.length; moment++)
    if (attempts.runOfMoment[moment]! < 0) behind[moment] = behind[moment - 1]!
  return moment => behind[moment]!
}

const inBeats = (ms: number, beatMs: number): number => {
  const beats = Math.round(ms / beatMs) * beatMs
  return Math.abs(ms - beats) < 0.25 * beatMs ? beats : ms
}

/** Nothing below half a beat; whole beats where the player fell in with the click again; otherwise what it was. */
const fallenBehind = (ms: number, beatMs: number): number => (Math.abs(ms) < 0.5 * beatMs ? 0 : inBeats(ms, beatMs))

/** The level before a pause is taken from so many moments, the tempo before it from so many steps. */
const LEVEL_MOMENTS = 4
const TEMPO_STEPS = 8

/**
 * Where a moment comes later than the moments before it and their tempo explain. What comes after says nothing: a
 * player who has paused hurries.
 */
function pausesOf(
  { clock, moments }: Followed,
  { played, spreadMs }: TempoCourse,
  where: PlaceInCourse,
  steady: boolean,
  { tolerances }: EarParameters,
): Pause[] {
  const leastMs = Math.max(tolerances.hesitationMinMs, tolerances.hesitationSpreads * spreadMs)
  const at = (one: PlayedMoment) => one.atMs
  const tempoAt = (moment: number) =>
    !steady ? clock.ratio(moment) : where.isOff(moment) ? where.stretchOf(moment)!.ratio : 1
  const runs = [...group(played, one => one.run).values()]
  return runs.flatMap(list => {
    const pauses: Pause[] = []
    let since = 0
    list.forEach((anchor, index) => {
      const before = list[index - 1]
      if (!before) return
      if (isAmong(where.begins, before.moment, anchor.moment) || where.changes.has(anchor.moment)) {
        since = index
        return
      }
      const around = tempoAt(anchor.moment)
      // Most steps are nowhere near a pause.
      if (anchor.takeMs - before.takeMs - around * (at(anchor) - at(before)) <= leastMs) return
      const steps = list.slice(Math.max(since, index - TEMPO_STEPS), index)
      const ratio =
        steady || steps.length < 4
          ? around
          : median(steps.slice(1).map((one, step) => (one.takeMs - steps[step]!.takeMs) / (at(one) - at(steps[step]!))))
      const lateBy = (one: PlayedMoment, tempo: number) => anchor.takeMs - one.takeMs - tempo * (at(anchor) - at(one))
      const level = list.slice(Math.max(since, index - LEVEL_MOMENTS), index)
      // One late note before must not hide a pause, nor one early note or a hurried stretch make one.
      const least = Math.max(ratio, around)
      const tolerance = Math.max(
        leastMs,
        Math.min(tolerances.hesitationMaxMs, tolerances.hesitationShare * ratio * (at(anchor) - at(before))),
      )
      if (Math.min(lateBy(before, least), median(level.map(one => lateBy(one, least)))) <= tolerance) return
      // People drift about the beat: the next note takes after the last one by about a half.
      pauses.push({
        note: moments[anchor.moment]!.notes[0]!,
        before: moments[before.moment]!.notes[0]!,
        ms: (lateBy(before, ratio) + median(level.map(one => lateBy(one, ratio)))) / 2,
      })
      since = index
    })
    return pauses
  })
}

/**
 * How far behind the click a run went on, ms: nothing, whole beats where it fell in with the click again, or what it
 * was.
 */
function behindClick(
  run: number,
  expected: readonly ExpectedNote[],
  played: readonly TakeNote[],
  { outcomes, followed: { attempts, momentOf } }: Alignment,
  beatMs: number,
): number {
  return fallenBehind(
    median(
      outcomes
        .flatMap(({ outcome, played: stroke }, index) =>
          outcome === 'right' && attempts.runOfMoment[momentOf[index]!] === run
            ? [played[stroke!]!.onsetMs - expected[index]!.onsetMs]
            : [],
        )
        .slice(0, RUN_READ),
    ),
    beatMs,
  )
}

/** A run's place against the click is read off so many notes: later ones may have drifted away. */
const RUN_READ = 40

/** The slope of take over score time with the pauses taken out. */
function overallStretch({ clock, moments, momentOf }: Followed, pauses: readonly Pause[]): number {
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
 * The player's own tempo: lines over many moments, which a single note cannot pull; over few where the tempo bends so
 * much that long lines would call the player early and late.
 */
function ownTempo(
  followed: Followed,
  pauses: readonly Pause[],
  where: PlaceInCourse,
  stretch: number,
  ear: EarParameters,
): (moment: number) => number {
  const offBy = (due: (moment: number) => number) =>
    median(followed.clock.anchors.flat().map(anchor => Math.abs(anchor.atMs - due(anchor.moment))))
  const long = localTempo(followed, pauses, where, stretch, ear.localTempoMoments)
  const short = localTempo(followed, pauses, where, stretch, ear.bendingTempoMoments)
  return offBy(long) > BENT * offBy(short) + 1 ? short : long
}

/** When a moment is due in a take without a click. */
function localTempo(
  { clock, moments, momentOf }: Followed,
  pauses: readonly Pause[],
  where: PlaceInCourse,
  stretch: number,
  reach: number,
): (moment: number) => number {
  const paused = new Set([...pauses.map(pause => momentOf[pause.note]!), ...where.begins])
  const stretches: Anchor[][] = []
  for (const list of clock.anchors) {
    list.forEach((anchor, index) => {
      if (index === 0 || isAmong(paused, list[index - 1]!.moment, anchor.moment)) stretches.push([anchor])
      else stretches.at(-1)!.push(anchor)
    })
  }
  const at = (anchor: Anchor) => moments[anchor.moment]!.atMs
  const lineAt = (list: readonly Anchor[], index: number) => {
    const from = Math.max(0, Math.min(index - (reach >> 1), list.length - reach))
    const near = list.slice(from, from + reach)
    return near.length < 4
      ? { slope: stretch, intercept: median(near.map(one => one.atMs - stretch * at(one))) }
      : lineThrough(near.map((one): Point => [at(one), one.atMs]))
  }
  // Neighbouring moments share a line.
  const lines = stretches.map(list => {
    let line = lineAt(list, 0)
    return list.map((_, index) => (index % LINE_STRIDE === 1 ? (line = lineAt(list, index + 1)) : line))
  })
  // For each moment the nearest anchor at or before it, or the first.
  const nearest = new Map<number, { slope: number; intercept: number }>()
  stretches.forEach((list, index) => list.forEach((anchor, place) => nearest.set(anchor.moment, lines[index]![place]!)))
  let last = lines[0]?.[0] ?? { slope: stretch, intercept: 0 }
  const due = Float64Array.from(moments, ({ atMs }, moment) => {
    last = nearest.get(moment) ?? last
    return last.intercept + last.slope * atMs
  })
  return moment => due[moment]!
}
