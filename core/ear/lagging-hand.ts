import { bisector } from 'd3-array'
import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { bestAlignment, type AlignmentRequest, type AlignmentHypothesis } from './alignment-hypothesis'
import { lagsAtCoincidences } from './score-events'
import type { Anchor } from './score-time-map'
import { median } from './statistics'

/**
 * Above this cost a note a take is hard to explain, and a lagging hand is considered. A beginner's take costs about
 * 0.7, hands a beat apart about 2.
 */
const DEAR = 1.25
/** Above this cost a note the take is not understood at all, and a lag would not help. */
const HOPELESS = 6
const MIN_NOTES = 6
/** The smallest lag at the hands' coincidences that is worth moving a hand for. */
const NOTABLE_MS = 25
const MIN_COINCIDENCES = 4
/** Width of the histogram of lags, and the share of the hand's notes that its peak must hold. */
const HEAP_MS = 60
const HEAP_SHARE = 0.5
const MAX_BEATS = 4

/** A hypothesis in which one hand lags behind the other, in take ms (negative: ahead). */
export interface LaggingHand {
  hand: Hand
  lagMs: number
  explanation: AlignmentHypothesis
}

/**
 * Looks for a hand that lags behind the other: a little, as their coincidences show, or by a beat or more, so that no
 * common path through the score fits. The other hand is then followed alone, and the strokes left over show the lag.
 * `undefined` when the hands are together, or when a lag explains the take no better.
 */
export function alignLaggingHand(request: AlignmentRequest, together: AlignmentHypothesis): LaggingHand | undefined {
  if (together.cost < DEAR * request.expected.length) {
    const lagMs = lagAtCoincidences(request, together)
    if (Math.abs(lagMs) < NOTABLE_MS) return undefined
    const explanation = explainShifted(request, 'left', lagMs / usualRatio(request, together))
    return explanation.cost < together.cost ? { hand: 'left', lagMs, explanation } : undefined
  }
  if (together.cost > HOPELESS * request.expected.length) return undefined
  let best: LaggingHand | undefined
  for (const hand of ['left', 'right'] as const) {
    const own = request.expected.filter(note => note.hand === hand)
    const others = request.expected.filter(note => note.hand !== hand)
    if (own.length < MIN_NOTES || others.length < MIN_NOTES) continue
    const alone = bestAlignment({ ...request, expected: others })
    const lagMs = commonLag(own, request, alone)
    if (lagMs === undefined) continue
    const explanation = explainShifted(request, hand, lagMs / usualRatio(request, alone))
    if (explanation.cost < (best?.explanation.cost ?? together.cost)) best = { hand, lagMs, explanation }
  }
  return best
}

/** How far the left hand comes behind the right at their coincidences, ms. */
function lagAtCoincidences({ played }: AlignmentRequest, { events, standsFor }: AlignmentHypothesis): number {
  const lags = lagsAtCoincidences(events, note => {
    const stroke = standsFor[note]
    return stroke == null ? undefined : played[stroke]!.onsetMs
  })
  return lags.length < MIN_COINCIDENCES ? 0 : median(lags)
}

/** Overall take ms for one ms of score time. */
const usualRatio = ({ steady }: AlignmentRequest, { events, clock }: AlignmentHypothesis): number =>
  steady ? 1 : median(events.map((_, event) => clock.ratio(event)))

/** The lag that most notes of the hand have to unused strokes of their key. */
function commonLag(
  own: readonly ExpectedNote[],
  { played, beatMs }: AlignmentRequest,
  alone: AlignmentHypothesis,
): number | undefined {
  const needed = new Set(alone.standsFor.filter(stroke => stroke !== null && alone.steps[stroke]!.kind === 'match'))
  const byKey = new Map<number, number[]>()
  played.forEach(({ pitch, onsetMs }, stroke) => {
    if (!needed.has(stroke)) gather(byKey, pitch, onsetMs)
  })
  const takeMs = clockOf(alone)
  const reachMs = MAX_BEATS * beatMs
  const heaps = new Map<number, number[]>()
  for (const note of own) {
    const due = takeMs(note.onsetMs)
    for (const onsetMs of byKey.get(note.pitch) ?? []) {
      const lag = onsetMs - due
      if (Math.abs(lag) > reachMs) continue
      gather(heaps, Math.round(lag / HEAP_MS), lag)
    }
  }
  let fullest: number[] = []
  for (const heap of heaps.keys()) {
    const near = [...(heaps.get(heap - 1) ?? []), ...heaps.get(heap)!, ...(heaps.get(heap + 1) ?? [])]
    if (near.length > fullest.length) fullest = near
  }
  return fullest.length >= HEAP_SHARE * own.length ? median(fullest) : undefined
}

function gather(groups: Map<number, number[]>, key: number, value: number) {
  const group = groups.get(key)
  if (group) group.push(value)
  else groups.set(key, [value])
}

/** Score ms to take ms, through the events that were heard. */
function clockOf({ clock, events }: AlignmentHypothesis): (scoreMs: number) => number {
  const anchors = clock.anchors.flat().sort((a, b) => a.event - b.event)
  const at = (anchor: Anchor) => events[anchor.event]!.atMs
  const anchorBy = bisector(at)
  return scoreMs => {
    if (anchors.length < 2) return scoreMs
    const next = Math.max(1, anchorBy.left(anchors, scoreMs, 0, anchors.length - 1))
    const after = anchors[next]!
    const before = anchors[next - 1]!
    return before.atMs + ((after.atMs - before.atMs) * (scoreMs - at(before))) / (at(after) - at(before))
  }
}

/** Aligns the take with one hand's notes moved in time; the result is in the order of the written notes. */
function explainShifted(request: AlignmentRequest, hand: Hand, byMs: number): AlignmentHypothesis {
  const moved = request.expected
    .map((note, index) => ({
      index,
      note: note.hand === hand ? { ...note, onsetMs: note.onsetMs + byMs, eventMs: note.eventMs + byMs } : note,
    }))
    .sort((a, b) => a.note.onsetMs - b.note.onsetMs || a.note.pitch - b.note.pitch)
  const found = bestAlignment({ ...request, expected: moved.map(({ note }) => note) })
  const standsFor = new Array<number | null>(moved.length)
  const eventOf = new Int32Array(moved.length)
  moved.forEach(({ index }, place) => {
    standsFor[index] = found.standsFor[place]!
    eventOf[index] = found.eventOf[place]!
  })
  const events = found.events.map(event => ({ ...event, notes: event.notes.map(place => moved[place]!.index) }))
  return { ...found, standsFor, eventOf, events }
}
