import { quantile } from 'simple-statistics'
import { type ExpectedNote, isTimed } from '../music/passage'
import type { Alignment } from './align'
import { lagsAtCoincidences } from './score-events'
import type { TempoParameters } from './parameters'
import { lineThrough, median, type Point } from './statistics'
import type { TakeNote } from './take'

/** An event as played: its score time, and its take time with a lag of one hand subtracted. */
export interface PlayedEvent {
  event: number
  atMs: number
  takeMs: number
  run: number
  barIndex: number
  beat: number
  quarterMs: number
}

/**
 * Part of one run at one tempo: indices into the played events; a line of take over score time without the breaks in
 * it.
 */
export interface TempoSegment {
  first: number
  last: number
  run: number
  ratio: number
  levelMs: number
}

/** A step longer (+) or shorter (−) than the tempo around it asks, ms; the index of the later event. */
export interface TempoBreak {
  at: number
  ms: number
  segment: number
}

/** The tempo of a take: segments of one tempo, and outlier steps. */
export interface TempoSegmentation {
  played: PlayedEvent[]
  segments: TempoSegment[]
  breaks: TempoBreak[]
  /** The tempo of most of the take: take ms for one score ms; with a click 1 unless nearly all of it was at another. */
  usual: number
  /** Standard deviation of events from their neighbours, ms: one estimated from the nearer ones, one from all. */
  unsteadinessMs: number
  spreadMs: number
  /** How far the left hand comes behind the right at their coincidences, ms; 0 where that is unknown. */
  leftBehindMs: number
}

/** The grid of tempos: from a third to three times, in steps of 2.5 %. */
const TEMPOS = { least: Math.log(0.28), step: 0.025, count: 104 } as const
const RATIOS = Float64Array.from({ length: TEMPOS.count }, (_, state) => Math.exp(TEMPOS.least + state * TEMPOS.step))
const ratioOf = (state: number): number => RATIOS[state]!
const stateOf = (ratio: number): number =>
  Math.min(TEMPOS.count - 1, Math.max(0, Math.round((Math.log(ratio) - TEMPOS.least) / TEMPOS.step)))

/**
 * Segments the tempo of an aligned take: the cheapest sequence of tempos by dynamic programming (Viterbi over a grid of
 * tempos), where a change of tempo has a penalty and so has an outlier step. Three slow bars are thus one slower
 * segment, and a pause one long step. Linear in the length of the take.
 */
export function segmentTempo(
  expected: readonly ExpectedNote[],
  strokes: readonly TakeNote[],
  alignment: Alignment,
  steady: boolean,
  tempo: TempoParameters,
): TempoSegmentation {
  const leftBehindMs = alignment.loose ? 0 : leftBehind(expected, strokes, alignment)
  const played = playedEvents(expected, strokes, alignment, leftBehindMs)
  const { unsteadinessMs, spreadMs } = unsteadiness(played)
  const segments: TempoSegment[] = []
  const breaks: TempoBreak[] = []
  for (let first = 0, end = 0; first < played.length; first = end) {
    for (end = first + 1; end < played.length && played[end]!.run === played[first]!.run;) end++
    segmentRun(played, first, end - 1, unsteadinessMs, steady, tempo, segments, breaks)
  }
  return {
    played,
    segments,
    breaks,
    usual: usualTempo(played, segments, steady, tempo),
    unsteadinessMs,
    spreadMs,
    leftBehindMs,
  }
}

/** How far the left hand comes behind the right; 0 with too few coincidences, or within chance. */
function leftBehind(
  expected: readonly ExpectedNote[],
  strokes: readonly TakeNote[],
  { followed: { events }, outcomes }: Alignment,
): number {
  const lags = lagsAtCoincidences(events, note => {
    const { outcome, played } = outcomes[note]!
    return outcome === 'right' && isTimed(expected[note]!) ? strokes[played!]!.onsetMs : undefined
  })
  if (lags.length < 3) return 0
  const lag = median(lags)
  const spread = 1.4826 * median(lags.map(one => Math.abs(one - lag)))
  return Math.abs(lag) > (2.5 * spread) / Math.sqrt(lags.length) ? lag : 0
}

function playedEvents(
  expected: readonly ExpectedNote[],
  strokes: readonly TakeNote[],
  { followed: { events, attempts }, outcomes }: Alignment,
  leftBehindMs: number,
): PlayedEvent[] {
  const found: PlayedEvent[] = []
  events.forEach(({ atMs, notes }, event) => {
    const run = attempts.runOfEvent[event]!
    if (run < 0) return
    const timed = notes.filter(note => outcomes[note]!.outcome === 'right' && isTimed(expected[note]!))
    if (timed.length === 0) return
    const { barIndex, beat, quarterMs } = expected[timed[0]!]!
    const takeMs = median(
      timed.map(
        note => strokes[outcomes[note]!.played!]!.onsetMs - (expected[note]!.hand === 'left' ? leftBehindMs : 0),
      ),
    )
    found.push({ event, atMs, takeMs, run, barIndex, beat, quarterMs })
  })
  return found.sort((a, b) => a.run - b.run || a.event - b.event)
}

function unsteadiness(played: readonly PlayedEvent[]): Pick<TempoSegmentation, 'unsteadinessMs' | 'spreadMs'> {
  const off: number[] = []
  for (let at = 1; at + 1 < played.length; at++) {
    const [before, here, after] = [played[at - 1]!, played[at]!, played[at + 1]!]
    if (before.run !== after.run || after.atMs - before.atMs < 1) continue
    off.push(
      Math.abs(
        here.takeMs -
          before.takeMs -
          ((after.takeMs - before.takeMs) * (here.atMs - before.atMs)) / (after.atMs - before.atMs),
      ),
    )
  }
  // An event between two others of the same unsteadiness lies off their line by a factor of √1.5. Where beats are lost
  // in every bar many lie far off, so the spread is estimated from the nearer ones.
  if (off.length === 0) return { unsteadinessMs: 0, spreadMs: 0 }
  return {
    unsteadinessMs: quantile(off, NEARER_ONES.share) / NEARER_ONES.ofNormal / Math.sqrt(1.5),
    spreadMs: (1.4826 * median(off)) / Math.sqrt(1.5),
  }
}

/** Of the absolute values of a normal distribution, 30 % lie within 0.385 standard deviations. */
const NEARER_ONES = { share: 0.3, ofNormal: 0.3853 } as const

function segmentRun(
  played: readonly PlayedEvent[],
  first: number,
  last: number,
  unsteadinessMs: number,
  steady: boolean,
  tempo: TempoParameters,
  segments: TempoSegment[],
  breaks: TempoBreak[],
): void {
  const nodes = nodesOf(played, first, last, tempo)
  const spreadMs = Math.max(tempo.minSpreadMs, unsteadinessMs)
  const { states, fellOut } = decodeTempos(played, nodes, spreadMs, steady, tempo)
  // One segment from each change to the next; one too short to be heard as a tempo becomes an outlier step.
  const pieces: Steps[] = []
  for (let step = 0; step < states.length; step++) {
    const piece = pieces.at(-1)
    if (piece && Math.abs(states[step]! - states[step - 1]!) <= 1) piece.to = step
    else pieces.push({ from: step, to: step })
  }
  const kept = pieces.length < 2 ? pieces : mergeShortSegments(pieces, states, played, nodes, tempo)
  if (kept.length === 0) {
    segments.push({
      first,
      last,
      run: played[first]!.run,
      ratio: 1,
      levelMs: played[first]!.takeMs - played[first]!.atMs,
    })
    return
  }
  const read = ({ from, to }: Steps, index: number): { segment: TempoSegment; inside: TempoBreak[] } => {
    const begin = index === 0 ? first : nodes[from]!
    const end = index === kept.length - 1 ? last : nodes[to + 1]!
    const usual = median(states.slice(from, to + 1).map(ratioOf))
    let gone = 0
    const inside: TempoBreak[] = []
    for (let step = from; step <= to; step++) {
      const [a, b] = [nodes[step]!, nodes[step + 1]!]
      const excess =
        played[b]!.takeMs - played[a]!.takeMs - ratioOf(states[step]!) * (played[b]!.atMs - played[a]!.atMs)
      const isOff =
        fellOut[step] ||
        Math.abs(excess) > tempo.outlierSpreads * stepSpread(spreadMs, played[b]!.atMs - played[a]!.atMs, tempo)
      if (isOff) inside.push({ at: longestStep(played, a, b, usual, excess), ms: excess, segment: segments.length })
    }
    const points: Point[] = []
    let next = 0
    for (let at = begin; at <= end; at++) {
      while (next < inside.length && inside[next]!.at <= at) gone += inside[next++]!.ms
      points.push([played[at]!.atMs, played[at]!.takeMs - gone])
    }
    const line =
      points.length >= 4
        ? lineThrough(points)
        : { slope: usual, intercept: median(points.map(([x, y]) => y - usual * x)) }
    return {
      segment: {
        first: begin,
        last: end,
        run: played[begin]!.run,
        ratio: line.slope > 0.05 ? line.slope : usual,
        levelMs: line.intercept,
      },
      inside,
    }
  }
  kept.forEach((piece, index) => {
    let found = read(piece, index)
    // With a click, a pause is recovered towards the click when no other tempo came before.
    if (
      steady &&
      index === 0 &&
      found.segment.ratio < 1 - tempo.nearlyAsked &&
      recoversTime(1, found.segment.ratio, [found.segment.first], found.segment.last, played, tempo)
    ) {
      states.fill(stateOf(1), piece.from, piece.to + 1)
      found = read(piece, index)
    }
    segments.push(found.segment)
    breaks.push(...found.inside)
  })
}

/** Events far enough apart for the step between them to show the tempo. */
function nodesOf(
  played: readonly PlayedEvent[],
  first: number,
  last: number,
  { minStepQuarters }: TempoParameters,
): number[] {
  const nodes = [first]
  for (let at = first + 1; at <= last; at++) {
    const { atMs, quarterMs } = played[at]!
    if (atMs - played[nodes.at(-1)!]!.atMs >= minStepQuarters * quarterMs) nodes.push(at)
  }
  return nodes
}

const stepSpread = (spreadMs: number, scoreMs: number, { spreadShare }: TempoParameters): number =>
  Math.hypot(Math.SQRT2 * spreadMs, spreadShare * scoreMs)

/** For each step between nodes its tempo (a state of the grid), and whether it is an outlier. */
function decodeTempos(
  played: readonly PlayedEvent[],
  nodes: readonly number[],
  spreadMs: number,
  steady: boolean,
  tempo: TempoParameters,
) {
  const steps = nodes.length - 1
  const { count } = TEMPOS
  const origin = new Int16Array(Math.max(0, steps) * count)
  const cost = new Float64Array(count)
  if (steady) {
    const asked = stateOf(1)
    for (let state = 0; state < count; state++)
      cost[state] = Math.abs(state - asked) * TEMPOS.step > tempo.nearlyAsked ? tempo.otherThanAsked : 0
  }
  const price = new Float64Array(count)
  const fell = new Uint8Array(Math.max(0, steps) * count)
  for (let step = 0; step < steps; step++) {
    const [a, b] = [played[nodes[step]!]!, played[nodes[step + 1]!]!]
    const [scoreMs, takeMs] = [b.atMs - a.atMs, b.takeMs - a.takeMs]
    const spread = stepSpread(spreadMs, scoreMs, tempo)
    let best = 0
    for (let state = 1; state < count; state++) if (cost[state]! < cost[best]!) best = state
    const changed = step > 0 ? cost[best]! + tempo.tempoChange : Infinity
    for (let state = 0; state < count; state++) {
      let from = state
      let least = cost[state]!
      const down = state > 0 ? cost[state - 1]! + tempo.tempoBend : Infinity
      const up = state < count - 1 ? cost[state + 1]! + tempo.tempoBend : Infinity
      if (down < least) [least, from] = [down, state - 1]
      if (up < least) [least, from] = [up, state + 1]
      if (changed < least) [least, from] = [changed, best]
      const off = (takeMs - RATIOS[state]! * scoreMs) / spread
      const emission = Math.min((off * off) / 2, tempo.outlierPenalty)
      if (emission >= tempo.outlierPenalty) fell[step * count + state] = 1
      origin[step * count + state] = from
      price[state] = least + emission
    }
    cost.set(price)
  }
  const states = new Int16Array(Math.max(0, steps))
  let state = 0
  for (let one = 1; one < count; one++) if (cost[one]! < cost[state]!) state = one
  for (let step = steps - 1; step >= 0; step--) {
    states[step] = state
    state = origin[step * count + state]!
  }
  return { states: [...states], fellOut: Array.from(states, (one, step) => fell[step * count + one] === 1) }
}

interface Steps {
  from: number
  to: number
}

/**
 * Whether the player, having played at another `ratio`, ends where keeping the tempo from one of these events on would
 * have led: the hurry recovered the time of a pause.
 */
function recoversTime(
  kept: number,
  ratio: number,
  begins: readonly number[],
  end: number,
  played: readonly PlayedEvent[],
  { madeUpShare }: TempoParameters,
): boolean {
  const saved = (kept - ratio) * (played[end]!.atMs - played[begins[0]!]!.atMs)
  const behind = begins.map(from =>
    Math.abs(played[end]!.takeMs - played[from]!.takeMs - kept * (played[end]!.atMs - played[from]!.atMs)),
  )
  return saved > 0 && Math.min(...behind) < madeUpShare * saved
}

/** Segments too short for a tempo of their own join the nearer neighbour; equal neighbours join each other. */
function mergeShortSegments(
  pieces: Steps[],
  states: number[],
  played: readonly PlayedEvent[],
  nodes: readonly number[],
  tempo: TempoParameters,
) {
  const quarters = ({ from, to }: Steps) =>
    (played[nodes[to + 1]!]!.atMs - played[nodes[from]!]!.atMs) / played[nodes[from]!]!.quarterMs
  const usual = ({ from, to }: Steps) => median(states.slice(from, to + 1))
  let kept = pieces
  for (let changed = true; changed && kept.length > 1;) {
    changed = false
    const next: typeof pieces = []
    for (const [index, piece] of kept.entries()) {
      const before = next.at(-1)
      const isShort = piece.to - piece.from + 1 < tempo.minSteps || quarters(piece) < tempo.minQuarters
      const isLike = before !== undefined && Math.abs(usual(before) - usual(piece)) * TEMPOS.step < tempo.sameTempo
      const isMadeUp =
        before !== undefined &&
        !isLike &&
        recoversTime(
          ratioOf(Math.round(usual(before))),
          ratioOf(Math.round(usual(piece))),
          [nodes[piece.from]!, nodes[piece.from - 1]!],
          nodes[piece.to + 1]!,
          played,
          tempo,
        )
      if (before && (isShort || isLike || isMadeUp)) {
        const after = kept[index + 1]
        const joinsAfter =
          isShort &&
          !isLike &&
          !isMadeUp &&
          after !== undefined &&
          Math.abs(usual(after) - usual(piece)) < Math.abs(usual(before) - usual(piece))
        if (!joinsAfter) {
          if (isShort || isMadeUp) states.fill(Math.round(usual(before)), piece.from, piece.to + 1)
          before.to = piece.to
          changed = true
          continue
        }
      }
      const after = kept[index + 1]
      if (isShort && after) {
        states.fill(Math.round(usual(after)), piece.from, piece.to + 1)
        after.from = piece.from
        changed = true
        continue
      }
      next.push({ ...piece })
    }
    kept = next
  }
  return kept
}

/** Of the steps between two nodes, the later event of the one that stands out most in the direction of the excess. */
function longestStep(played: readonly PlayedEvent[], a: number, b: number, ratio: number, excess: number): number {
  let found = b
  let most = -Infinity
  for (let at = a + 1; at <= b; at++) {
    const one =
      Math.sign(excess) *
      (played[at]!.takeMs - played[at - 1]!.takeMs - ratio * (played[at]!.atMs - played[at - 1]!.atMs))
    if (one > most) [found, most] = [at, one]
  }
  return found
}

function usualTempo(
  played: readonly PlayedEvent[],
  segments: readonly TempoSegment[],
  steady: boolean,
  tempo: TempoParameters,
): number {
  const all = segments
    .map(({ first, last, ratio }) => ({ ratio, lengthMs: played[last]!.atMs - played[first]!.atMs }))
    .sort((a, b) => a.ratio - b.ratio)
  const total = all.reduce((sum, one) => sum + one.lengthMs, 0)
  if (total === 0) return 1
  if (steady) {
    const near = all
      .filter(one => Math.abs(Math.log(one.ratio)) <= tempo.otherTempo)
      .reduce((sum, one) => sum + one.lengthMs, 0)
    if (near >= (1 - tempo.wholeTakeShare) * total) return 1
  }
  let half = 0
  for (const { ratio, lengthMs } of all) if ((half += lengthMs) >= total / 2) return ratio
  return 1
}
