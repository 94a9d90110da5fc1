import { group } from 'd3-array'
import type { ExpectedNote } from '../music/passage'
import type { Alignment } from './align'
import type { EarParameters } from './parameters'
import type { Anchor } from './score-time-map'
import { lineThrough, median, type Point } from './statistics'
import type { PlayedEvent, TempoBreak, TempoSegmentation, TempoSegment } from './tempo-segmentation'
import type { TempoInterpretation } from './tempo-heard'
import type { TakeNote } from './take'

/** A pause between two events that were played one after the other. */
export interface Pause {
  /** An event's late note and a note of the event before it, by index. */
  note: number
  before: number
  /** Excess over the local tempo, ms. */
  ms: number
}

export interface DueTimes {
  /** For each expected note, when it was due, ms on the take's clock. */
  dueMs: Float64Array
  /** For each expected note, played ms for one ms of score time about it. */
  ratio: Float64Array
  /** Overall tempo: played ms for one ms of score time; 1 with a click. */
  tempoRatio: number
  pauses: Pause[]
  /**
   * With a click: for each run, how far behind the click it continued after a stop, a skip or a late entry, ms; 0 for
   * one that kept to it.
   */
  shifts: number[]
  /** Whether a note falls in a segment at another tempo than the click's. */
  isOffTempo: (note: number) => boolean
  /** Whether between two followed events another tempo began, a beat was lost or the player came in late. */
  beginsAnew: (before: number, here: number) => boolean
}

/** The timing of a take, read off its notes. */
export interface TempoOfTake {
  course: TempoSegmentation
  heard: TempoInterpretation
}

/**
 * When each note was due. With a click, the click says so; after a stop, a lost beat or a late entry it is measured
 * from the click the player fell in with, and a segment at another tempo from its own. Without a click it is the
 * player's local tempo: a line through the events around, never across a pause or a change of tempo.
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
  const { attempts, eventOf } = followed
  const where = placeInTempo(followed, tempo, ear)
  const pauses = pausesOf(followed, tempo.course, where, steady, ear)
  const dueMs = new Float64Array(expected.length)
  const ratio = new Float64Array(expected.length)
  const isOffTempo = (note: number) => steady && where.isOff(eventOf[note]!)
  const beginsAnew = (before: number, here: number) => isAmong(where.begins, before, here)
  if (steady) {
    const runShifts = attempts.runs.map((_, run) =>
      run === 0 ? 0 : behindClick(run, expected, played, alignment, beatMs),
    )
    const behind = behindAt(followed, tempo, where, runShifts, beatMs)
    expected.forEach((note, index) => {
      const event = eventOf[index]!
      const segment = where.isOff(event) ? where.segmentOf(event) : undefined
      ratio[index] = segment?.ratio ?? 1
      dueMs[index] = segment
        ? segment.levelMs +
          where.goneMs(event) +
          segment.ratio * followed.events[event]!.atMs -
          (note.eventMs - note.onsetMs) * segment.ratio
        : note.onsetMs + behind(event)
    })
    return {
      dueMs,
      ratio,
      tempoRatio: 1,
      pauses,
      shifts: attempts.runs.map((run, index) => (index === 0 ? behind(run.firstEvent) : runShifts[index]!)),
      isOffTempo,
      beginsAnew,
    }
  }
  const tempoRatio = tempo.heard.sections.length > 0 ? tempo.course.usual : overallTempoRatio(followed, pauses)
  const due = ownTempo(followed, pauses, where, tempoRatio, ear)
  expected.forEach((note, index) => {
    const lagMs = alignment.loose?.hand === note.hand ? alignment.loose.lagMs : 0
    ratio[index] =
      tempo.heard.sections.length > 0 ? (where.segmentOf(eventOf[index]!)?.ratio ?? tempoRatio) : tempoRatio
    dueMs[index] = due(eventOf[index]!) - lagMs - (note.eventMs - note.onsetMs) * tempoRatio
  })
  return { dueMs, ratio, tempoRatio, pauses, shifts: attempts.runs.map(() => 0), isOffTempo, beginsAnew }
}

type Followed = Alignment['followed']

/** Whether one of the events lies after `before` and not after `here`. */
function isAmong(events: ReadonlySet<number>, before: number, here: number): boolean {
  for (let event = before + 1; event <= here; event++) if (events.has(event)) return true
  return false
}

/** Where each event lies in the segmentation of the tempo. */
interface PlaceInTempo {
  segmentOf: (event: number) => TempoSegment | undefined
  /** Whether its segment is at another tempo than the click's. */
  isOff: (event: number) => boolean
  /** Sum of the breaks of its segment before it, ms. */
  goneMs: (event: number) => number
  /** Events before which a new segment begins, or a step that is a lost beat or an entry and no pause. */
  begins: ReadonlySet<number>
  /** Events beside a change of tempo: a step there belongs to neither segment and is no pause. */
  changes: ReadonlySet<number>
}

function placeInTempo(
  { events, attempts }: Followed,
  { course, heard }: TempoOfTake,
  ear: EarParameters,
): PlaceInTempo {
  const { played, segments, breaks } = course
  const segmentAt = new Int32Array(events.length).fill(-1)
  const gone = new Float64Array(events.length)
  const begins = new Set<number>()
  const changes = new Set<number>()
  segments.forEach(({ first, last, run }, index) => {
    const startsRun = segments[index - 1]?.run !== run
    const endsRun = segments[index + 1]?.run !== run
    const from = startsRun ? attempts.runs[run]!.firstEvent : played[first]!.event
    const to = endsRun ? attempts.runs[run]!.lastEvent : played[last]!.event - 1
    if (!startsRun) {
      begins.add(played[first]!.event)
      for (const beside of [first, first + 1, first + 2])
        if (played[beside]?.run === run) changes.add(played[beside]!.event)
    }
    for (let event = from; event <= to; event++) if (attempts.runOfEvent[event] === run) segmentAt[event] = index
  })
  const own = new Map<number, TempoBreak[]>()
  for (const one of breaks) own.set(one.segment, [...(own.get(one.segment) ?? []), one])
  own.forEach((list, segment) => {
    const { run, last } = segments[segment]!
    let sum = 0
    list.forEach((one, index) => {
      sum += one.ms
      const until = list[index + 1]
        ? played[list[index + 1]!.at]!.event
        : segments[segment + 1]?.run === run
          ? played[last]!.event
          : attempts.runs[run]!.lastEvent + 1
      for (let event = played[one.at]!.event; event < until; event++) gone[event] = sum
    })
  })
  for (const index of heard.explained.keys()) begins.add(played[breaks[index]!.at]!.event)
  return {
    segmentOf: event => segments[segmentAt[event]!],
    isOff: event => {
      const segment = segments[segmentAt[event]!]
      return segment !== undefined && Math.abs(Math.log(segment.ratio)) > ear.tempo.otherTempo
    },
    goneMs: event => gone[event]!,
    begins,
    changes,
  }
}

/** The lag is measured over ten events, from three after a break: after a stop the player may still be catching up. */
const LEVEL_READ = 10
const CATCHING_UP = 3

/**
 * The lag behind the click from which each event is measured, ms: 0 while the player keeps to it; whole beats, or the
 * actual lag, after a lost beat, a late entry or a segment of another tempo.
 */
function behindAt(
  { events, attempts }: Followed,
  { course, heard }: TempoOfTake,
  where: PlaceInTempo,
  runShifts: readonly number[],
  beatMs: number,
): (event: number) => number {
  const { played, segments, breaks } = course
  const behind = new Float64Array(events.length)
  const breakAt = new Map(breaks.map((one, index) => [one.at, { ...one, exactMs: heard.explained.get(index) }]))
  const entry = heard.entries.find(one => one.breakAt === undefined)
  const late = (from: number, to: number) => median(played.slice(from, to).map(one => one.takeMs - one.atMs))
  let shift = 0
  let run = -1
  segments.forEach((segment, index) => {
    const { first, last } = segment
    const startsRun = segment.run !== run
    if (startsRun) {
      run = segment.run
      shift = entry && first === 0 ? inBeats(entry.ms, beatMs) : runShifts[run]!
    } else if (!where.isOff(played[first]!.event))
      shift = fallenBehind(late(first, Math.min(last, first + LEVEL_READ)), beatMs)
    for (let at = first; at <= last; at++) {
      const one = breakAt.get(at)
      if (one?.segment === index && one.exactMs !== undefined) shift += one.exactMs
      else if (one && one.segment === index && Math.abs(one.ms) >= 0.5 * beatMs) {
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
      const until = played[at + 1]?.run === run ? played[at + 1]!.event : attempts.runs[run]!.lastEvent + 1
      for (
        let event = startsRun && at === first ? attempts.runs[run]!.firstEvent : played[at]!.event;
        event < until;
        event++
      ) {
        if (attempts.runOfEvent[event] === run) behind[event] = shift
      }
    }
  })
  // An event that was not played is placed with those before it.
  for (let event = 1; event < events.length; event++)
    if (attempts.runOfEvent[event]! < 0) behind[event] = behind[event - 1]!
  return event => behind[event]!
}

const inBeats = (ms: number, beatMs: number): number => {
  const beats = Math.round(ms / beatMs) * beatMs
  return Math.abs(ms - beats) < 0.25 * beatMs ? beats : ms
}

/** 0 below half a beat; whole beats where the player fell in with the click again; otherwise the lag itself. */
const fallenBehind = (ms: number, beatMs: number): number => (Math.abs(ms) < 0.5 * beatMs ? 0 : inBeats(ms, beatMs))

/** Events that give the level before a pause, and steps that give the tempo before it. */
const LEVEL_MOMENTS = 4
const TEMPO_STEPS = 8

/**
 * Events that come later than the events before them and their tempo explain. Later events are not used: after a pause
 * people hurry.
 */
function pausesOf(
  { clock, events }: Followed,
  { played, spreadMs }: TempoSegmentation,
  where: PlaceInTempo,
  steady: boolean,
  { tolerances }: EarParameters,
): Pause[] {
  const leastMs = Math.max(tolerances.hesitationMinMs, tolerances.hesitationSpreads * spreadMs)
  const at = (one: PlayedEvent) => one.atMs
  const tempoAt = (event: number) =>
    !steady ? clock.ratio(event) : where.isOff(event) ? where.segmentOf(event)!.ratio : 1
  const runs = [...group(played, one => one.run).values()]
  return runs.flatMap(list => {
    const pauses: Pause[] = []
    let since = 0
    list.forEach((anchor, index) => {
      const before = list[index - 1]
      if (!before) return
      if (isAmong(where.begins, before.event, anchor.event) || where.changes.has(anchor.event)) {
        since = index
        return
      }
      const around = tempoAt(anchor.event)
      // Most steps are nowhere near a pause.
      if (anchor.takeMs - before.takeMs - around * (at(anchor) - at(before)) <= leastMs) return
      const steps = list.slice(Math.max(since, index - TEMPO_STEPS), index)
      const ratio =
        steady || steps.length < 4
          ? around
          : median(steps.slice(1).map((one, step) => (one.takeMs - steps[step]!.takeMs) / (at(one) - at(steps[step]!))))
      const lateBy = (one: PlayedEvent, tempo: number) => anchor.takeMs - one.takeMs - tempo * (at(anchor) - at(one))
      const level = list.slice(Math.max(since, index - LEVEL_MOMENTS), index)
      // One late note before must not hide a pause, and one early note or hurried passage must not create one.
      const least = Math.max(ratio, around)
      const tolerance = Math.max(
        leastMs,
        Math.min(tolerances.hesitationMaxMs, tolerances.hesitationShare * ratio * (at(anchor) - at(before))),
      )
      if (Math.min(lateBy(before, least), median(level.map(one => lateBy(one, least)))) <= tolerance) return
      // Neighbouring errors are correlated, so half of the last error is expected again.
      pauses.push({
        note: events[anchor.event]!.notes[0]!,
        before: events[before.event]!.notes[0]!,
        ms: (lateBy(before, ratio) + median(level.map(one => lateBy(one, ratio)))) / 2,
      })
      since = index
    })
    return pauses
  })
}

/**
 * How far behind the click a run continued, ms: 0, whole beats where it fell in with the click again, or the lag
 * itself.
 */
function behindClick(
  run: number,
  expected: readonly ExpectedNote[],
  played: readonly TakeNote[],
  { outcomes, followed: { attempts, eventOf } }: Alignment,
  beatMs: number,
): number {
  return fallenBehind(
    median(
      outcomes
        .flatMap(({ outcome, played: stroke }, index) =>
          outcome === 'right' && attempts.runOfEvent[eventOf[index]!] === run
            ? [played[stroke!]!.onsetMs - expected[index]!.onsetMs]
            : [],
        )
        .slice(0, RUN_READ),
    ),
    beatMs,
  )
}

/** Notes that give a run's lag behind the click; later ones may have drifted. */
const RUN_READ = 40

/** The slope of take over score time with the pauses taken out. */
function overallTempoRatio({ clock, events, eventOf }: Followed, pauses: readonly Pause[]): number {
  const pauseAt = new Map(pauses.map(pause => [eventOf[pause.note]!, pause.ms]))
  let best: readonly Anchor[] = []
  for (const list of clock.anchors) if (list.length > best.length) best = list
  let pausedMs = 0
  const points = best.map((anchor): Point => {
    pausedMs += pauseAt.get(anchor.event) ?? 0
    return [events[anchor.event]!.atMs, anchor.atMs - pausedMs]
  })
  const { slope } = lineThrough(points)
  return slope > MIN_TEMPO_RATIO && slope < 1 / MIN_TEMPO_RATIO ? slope : 1
}

/** Playing twenty times as fast or slow as written does not occur; a ratio beyond this is not this music. */
const MIN_TEMPO_RATIO = 0.05

const LINE_STRIDE = 3
/** The tempo is taken to bend when notes lie this many times farther from a long line than from a short one. */
const BENT = 1.6

/**
 * The player's own tempo: lines over many events, which a single note cannot pull; over few where the tempo bends so
 * much that notes would seem early or late.
 */
function ownTempo(
  followed: Followed,
  pauses: readonly Pause[],
  where: PlaceInTempo,
  tempoRatio: number,
  ear: EarParameters,
): (event: number) => number {
  const offBy = (due: (event: number) => number) =>
    median(followed.clock.anchors.flat().map(anchor => Math.abs(anchor.atMs - due(anchor.event))))
  const long = localTempo(followed, pauses, where, tempoRatio, ear.localTempoEvents)
  const short = localTempo(followed, pauses, where, tempoRatio, ear.bendingTempoEvents)
  return offBy(long) > BENT * offBy(short) + 1 ? short : long
}

/** When a event is due in a take without a click. */
function localTempo(
  { clock, events, eventOf }: Followed,
  pauses: readonly Pause[],
  where: PlaceInTempo,
  tempoRatio: number,
  reach: number,
): (event: number) => number {
  const paused = new Set([...pauses.map(pause => eventOf[pause.note]!), ...where.begins])
  const groups: Anchor[][] = []
  for (const list of clock.anchors) {
    list.forEach((anchor, index) => {
      if (index === 0 || isAmong(paused, list[index - 1]!.event, anchor.event)) groups.push([anchor])
      else groups.at(-1)!.push(anchor)
    })
  }
  const at = (anchor: Anchor) => events[anchor.event]!.atMs
  const lineAt = (list: readonly Anchor[], index: number) => {
    const from = Math.max(0, Math.min(index - (reach >> 1), list.length - reach))
    const near = list.slice(from, from + reach)
    return near.length < 4
      ? { slope: tempoRatio, intercept: median(near.map(one => one.atMs - tempoRatio * at(one))) }
      : lineThrough(near.map((one): Point => [at(one), one.atMs]))
  }
  // Neighbouring events share a line.
  const lines = groups.map(list => {
    let line = lineAt(list, 0)
    return list.map((_, index) => (index % LINE_STRIDE === 1 ? (line = lineAt(list, index + 1)) : line))
  })
  // For each event the nearest anchor at or before it, or the first.
  const nearest = new Map<number, { slope: number; intercept: number }>()
  groups.forEach((list, index) => list.forEach((anchor, place) => nearest.set(anchor.event, lines[index]![place]!)))
  let last = lines[0]?.[0] ?? { slope: tempoRatio, intercept: 0 }
  const due = Float64Array.from(events, ({ atMs }, event) => {
    last = nearest.get(event) ?? last
    return last.intercept + last.slope * atMs
  })
  return event => due[event]!
}
