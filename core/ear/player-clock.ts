import type { Step } from './follow'
import type { Moment } from './moments'
import type { Attempts } from './runs'
import { median } from './statistics'

/** A moment that was heard: which strokes, and when (the middle one). */
export interface Anchor {
  moment: number
  strokes: number[]
  atMs: number
}

/** When notes are to be expected in a take, by the notes around them. */
export interface PlayerClock {
  /** The anchors of each run, ascending. */
  anchors: Anchor[][]
  /** The earliest and latest moment of the take at which a moment of the score may be due, going by its neighbours. */
  window: (moment: number) => { fromMs: number; toMs: number } | undefined
  /** When the other strokes of the moment fell; undefined when there is none but `stroke`. */
  withoutStroke: (moment: number, stroke: number) => number | undefined
  /** Take ms for one score ms about a moment. */
  ratio: (moment: number) => number
  /** How far notes lie from where their neighbours put them: a robust standard deviation, ms. */
  unsteadinessMs: number
}

/** The strokes of one moment lie so near to its first, ms (spread chords of beginners reach 150). */
const MOST_SPREAD_MS = 250

/** Moments on either side that say how fast the player goes. */
const RATIO_REACH = 5

/** Reads the player's own clock off the strokes that were matched. */
export function playerClock(
  moments: readonly Moment[],
  strokes: readonly { onsetMs: number }[],
  steps: readonly Step[],
  attempts: Attempts,
): PlayerClock {
  const anchors = attempts.runs.map((): Anchor[] => [])
  const anchorOf: (Anchor | undefined)[] = new Array(moments.length)
  steps.forEach(({ moment, kind }, stroke) => {
    const run = attempts.runOfStroke[stroke]!
    if (run < 0 || kind !== 'match') return
    const known = anchorOf[moment]
    // A key that comes after the next notes says nothing of when its chord fell.
    if (known) {
      if (strokes[stroke]!.onsetMs - strokes[known.strokes[0]!]!.onsetMs <= MOST_SPREAD_MS) known.strokes.push(stroke)
    } else anchorOf[moment] = { moment, strokes: [stroke], atMs: 0 }
  })
  const place = new Int32Array(moments.length)
  anchorOf.forEach((anchor, moment) => {
    const list = anchors[attempts.runOfMoment[moment]!]
    if (!anchor || !list) return
    anchor.atMs = median(anchor.strokes.map(stroke => strokes[stroke]!.onsetMs))
    list.push(anchor)
  })
  for (const list of anchors) list.sort((a, b) => a.moment - b.moment)
  // For each moment, how many anchors of its run lie before it.
  attempts.runs.forEach((run, index) => {
    let passed = 0
    for (let moment = run.firstMoment; moment <= run.lastMoment; moment++) {
      if (attempts.runOfMoment[moment] !== index) continue
      place[moment] = passed
      if (anchorOf[moment]) passed++
    }
  })
  const ratios = anchors.map(list => localRatios(list, moments))
  const neighbours = (moment: number) => {
    const run = attempts.runOfMoment[moment]!
    const list = anchors[run]
    if (!list || list.length === 0) return undefined
    const before = list[place[moment]! - 1]
    const after = list[place[moment]! + (anchorOf[moment] ? 1 : 0)]
    const speed = ratios[run]![Math.min(list.length - 1, place[moment]!)]!
    return { before, after, speed }
  }
  const clock: Omit<PlayerClock, 'unsteadinessMs'> = {
    anchors,
    ratio: moment => neighbours(moment)?.speed ?? 1,
    window(moment) {
      const around = neighbours(moment)
      if (!around) return undefined
      const { before, after, speed } = around
      const at = moments[moment]!.atMs
      const fromBefore = before && before.atMs + speed * (at - moments[before.moment]!.atMs)
      const fromAfter = after && after.atMs - speed * (moments[after.moment]!.atMs - at)
      if (fromBefore === undefined && fromAfter === undefined) {
        const own = anchorOf[moment]!.atMs
        return { fromMs: own, toMs: own }
      }
      // With neighbours on one side only, what was followed speaks for itself: a pause may lie between.
      const own = anchorOf[moment]?.atMs
      const one = fromBefore ?? own ?? fromAfter!
      const other = fromAfter ?? own ?? fromBefore!
      return { fromMs: Math.min(one, other), toMs: Math.max(one, other) }
    },
    withoutStroke(moment, stroke) {
      const anchor = anchorOf[moment]
      if (!anchor) return undefined
      if (!anchor.strokes.includes(stroke)) return anchor.atMs
      return anchor.strokes.length === 1
        ? undefined
        : median(anchor.strokes.flatMap(one => (one === stroke ? [] : [strokes[one]!.onsetMs])))
    },
  }
  return { ...clock, unsteadinessMs: spreadAbout(clock, moments, strokes) }
}

/** For each anchor the middle ratio of take to score time over the steps around it. */
function localRatios(list: readonly Anchor[], moments: readonly Moment[]): number[] {
  const steps = list.slice(1).map((anchor, index) => {
    const before = list[index]!
    return (anchor.atMs - before.atMs) / (moments[anchor.moment]!.atMs - moments[before.moment]!.atMs)
  })
  if (steps.length === 0) return list.map(() => 1)
  return list.map((_, index) => {
    const near = steps.slice(Math.max(0, index - RATIO_REACH), index + RATIO_REACH).filter(step => step > 0)
    return near.length === 0 ? 1 : median(near)
  })
}

/** From each stroke to the line between the anchors around it. */
function spreadAbout(
  clock: Omit<PlayerClock, 'unsteadinessMs'>,
  moments: readonly Moment[],
  strokes: readonly { onsetMs: number }[],
): number {
  const off: number[] = []
  for (const list of clock.anchors) {
    for (let index = 1; index + 1 < list.length; index++) {
      const [before, here, after] = [list[index - 1]!, list[index]!, list[index + 1]!]
      const at = (anchor: Anchor) => moments[anchor.moment]!.atMs
      const due = before.atMs + ((after.atMs - before.atMs) * (at(here) - at(before))) / (at(after) - at(before))
      for (const stroke of here.strokes) off.push(Math.abs(strokes[stroke]!.onsetMs - due))
    }
  }
  return 1.4826 * median(off)
}
