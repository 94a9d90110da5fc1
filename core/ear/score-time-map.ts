import type { FollowedStroke } from './hypotheses'
import type { ScoreEvent } from './score-events'
import type { Attempts } from './runs'
import { median } from './statistics'

/** An event that was heard: its strokes and their median time. */
export interface Anchor {
  event: number
  strokes: number[]
  atMs: number
}

/** Maps score time to take time through the notes heard around. */
export interface ScoreTimeMap {
  /** The anchors of each run, ascending. */
  anchors: Anchor[][]
  /** The earliest and latest take time at which a score event may be due, judged by its neighbours. */
  window: (event: number) => { fromMs: number; toMs: number } | undefined
  /** Median time of the event's other strokes; undefined when there is none but `stroke`. */
  withoutStroke: (event: number, stroke: number) => number | undefined
  /** Take ms for one score ms around an event. */
  ratio: (event: number) => number
  /** Robust standard deviation of notes from where their neighbours put them, ms. */
  unsteadinessMs: number
}

/** Largest spread of an event's strokes after its first, ms (spread chords of beginners reach 150). */
const MAX_SPREAD_MS = 250

/** Events on either side that give the local tempo. */
const RATIO_REACH = 5

/** Builds the map from the strokes that were matched. */
export function scoreTimeMap(
  events: readonly ScoreEvent[],
  strokes: readonly { onsetMs: number }[],
  steps: readonly FollowedStroke[],
  attempts: Attempts,
): ScoreTimeMap {
  const anchors = attempts.runs.map((): Anchor[] => [])
  const anchorOf: (Anchor | undefined)[] = new Array(events.length)
  steps.forEach(({ event, kind }, stroke) => {
    const run = attempts.runOfStroke[stroke]!
    if (run < 0 || kind !== 'match') return
    const known = anchorOf[event]
    // A key struck after the next notes does not show when its chord came.
    if (known) {
      if (strokes[stroke]!.onsetMs - strokes[known.strokes[0]!]!.onsetMs <= MAX_SPREAD_MS) known.strokes.push(stroke)
    } else anchorOf[event] = { event, strokes: [stroke], atMs: 0 }
  })
  const place = new Int32Array(events.length)
  anchorOf.forEach((anchor, event) => {
    const list = anchors[attempts.runOfEvent[event]!]
    if (!anchor || !list) return
    anchor.atMs = median(anchor.strokes.map(stroke => strokes[stroke]!.onsetMs))
    list.push(anchor)
  })
  for (const list of anchors) list.sort((a, b) => a.event - b.event)
  // For each event, the number of anchors of its run before it.
  attempts.runs.forEach((run, index) => {
    let passed = 0
    for (let event = run.firstEvent; event <= run.lastEvent; event++) {
      if (attempts.runOfEvent[event] !== index) continue
      place[event] = passed
      if (anchorOf[event]) passed++
    }
  })
  const ratios = anchors.map(list => localRatios(list, events))
  const neighbours = (event: number) => {
    const run = attempts.runOfEvent[event]!
    const list = anchors[run]
    if (!list || list.length === 0) return undefined
    const before = list[place[event]! - 1]
    const after = list[place[event]! + (anchorOf[event] ? 1 : 0)]
    const speed = ratios[run]![Math.min(list.length - 1, place[event]!)]!
    return { before, after, speed }
  }
  const clock: Omit<ScoreTimeMap, 'unsteadinessMs'> = {
    anchors,
    ratio: event => neighbours(event)?.speed ?? 1,
    window(event) {
      const around = neighbours(event)
      if (!around) return undefined
      const { before, after, speed } = around
      const at = events[event]!.atMs
      const fromBefore = before && before.atMs + speed * (at - events[before.event]!.atMs)
      const fromAfter = after && after.atMs - speed * (events[after.event]!.atMs - at)
      if (fromBefore === undefined && fromAfter === undefined) {
        const own = anchorOf[event]!.atMs
        return { fromMs: own, toMs: own }
      }
      // With neighbours on one side only, the followed stroke itself decides: there may be a pause in between.
      const own = anchorOf[event]?.atMs
      const one = fromBefore ?? own ?? fromAfter!
      const other = fromAfter ?? own ?? fromBefore!
      return { fromMs: Math.min(one, other), toMs: Math.max(one, other) }
    },
    withoutStroke(event, stroke) {
      const anchor = anchorOf[event]
      if (!anchor) return undefined
      if (!anchor.strokes.includes(stroke)) return anchor.atMs
      return anchor.strokes.length === 1
        ? undefined
        : median(anchor.strokes.flatMap(one => (one === stroke ? [] : [strokes[one]!.onsetMs])))
    },
  }
  return { ...clock, unsteadinessMs: spreadAbout(clock, events, strokes) }
}

/** For each anchor the median ratio of take to score time over the steps around it. */
function localRatios(list: readonly Anchor[], events: readonly ScoreEvent[]): number[] {
  const steps = list.slice(1).map((anchor, index) => {
    const before = list[index]!
    return (anchor.atMs - before.atMs) / (events[anchor.event]!.atMs - events[before.event]!.atMs)
  })
  if (steps.length === 0) return list.map(() => 1)
  return list.map((_, index) => {
    const near = steps.slice(Math.max(0, index - RATIO_REACH), index + RATIO_REACH).filter(step => step > 0)
    return near.length === 0 ? 1 : median(near)
  })
}

/** The distance of each stroke from the line between its neighbouring anchors. */
function spreadAbout(
  clock: Omit<ScoreTimeMap, 'unsteadinessMs'>,
  events: readonly ScoreEvent[],
  strokes: readonly { onsetMs: number }[],
): number {
  const off: number[] = []
  for (const list of clock.anchors) {
    for (let index = 1; index + 1 < list.length; index++) {
      const [before, here, after] = [list[index - 1]!, list[index]!, list[index + 1]!]
      const at = (anchor: Anchor) => events[anchor.event]!.atMs
      const due = before.atMs + ((after.atMs - before.atMs) * (at(here) - at(before))) / (at(after) - at(before))
      for (const stroke of here.strokes) off.push(Math.abs(strokes[stroke]!.onsetMs - due))
    }
  }
  return 1.4826 * median(off)
}
