import { bisector } from 'd3-array'
import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { explain, type AlignmentRequest, type Explanation } from './explain'
import { lagsAtCoincidences } from './moments'
import type { Anchor } from './player-clock'
import { median } from './statistics'

/**
 * A take that costs more for each note is hard to understand: it is worth asking whether a hand has come loose. A
 * beginner's costs about 0.7, hands a beat apart about 2.
 */
const DEAR = 1.25
/** A take dearer than this is not understood at all, and a lag would not help. */
const HOPELESS = 6
const LEAST_NOTES = 6
/** A lag at the coincidences of the hands from which it is worth moving a hand. */
const NOTABLE_MS = 25
const LEAST_COINCIDENCES = 4
/** Lags are gathered in heaps so wide, and the highest must hold this share of the hand's notes. */
const HEAP_MS = 60
const HEAP_SHARE = 0.5
const MOST_BEATS = 4

/** An explanation of a take in which one hand lies behind the other by so many take ms (negative: ahead). */
export interface HandApart {
  hand: Hand
  lagMs: number
  explanation: Explanation
}

/**
 * One hand may lie behind the other: a little, as its coincidences with the other say, or loose by a beat or more, so
 * that no common way through the score fits. Then the other hand is followed alone, and the strokes it leaves over say
 * by how much this one lags. `undefined` when the hands are together, or when a lag explains the take no better.
 */
export function looseHand(request: AlignmentRequest, together: Explanation): HandApart | undefined {
  if (together.cost < DEAR * request.expected.length) {
    const lagMs = lagAtCoincidences(request, together)
    if (Math.abs(lagMs) < NOTABLE_MS) return undefined
    const explanation = explainShifted(request, 'left', lagMs / usualRatio(request, together))
    return explanation.cost < together.cost ? { hand: 'left', lagMs, explanation } : undefined
  }
  if (together.cost > HOPELESS * request.expected.length) return undefined
  let best: HandApart | undefined
  for (const hand of ['left', 'right'] as const) {
    const own = request.expected.filter(note => note.hand === hand)
    const others = request.expected.filter(note => note.hand !== hand)
    if (own.length < LEAST_NOTES || others.length < LEAST_NOTES) continue
    const alone = explain({ ...request, expected: others })
    const lagMs = commonLag(own, request, alone)
    if (lagMs === undefined) continue
    const explanation = explainShifted(request, hand, lagMs / usualRatio(request, alone))
    if (explanation.cost < (best?.explanation.cost ?? together.cost)) best = { hand, lagMs, explanation }
  }
  return best
}

/** How far the left hand comes behind the right where they have something to strike together, ms. */
function lagAtCoincidences({ played }: AlignmentRequest, { moments, standsFor }: Explanation): number {
  const lags = lagsAtCoincidences(moments, note => {
    const stroke = standsFor[note]
    return stroke == null ? undefined : played[stroke]!.onsetMs
  })
  return lags.length < LEAST_COINCIDENCES ? 0 : median(lags)
}

/** Take ms for one ms of score time, on the whole. */
const usualRatio = ({ steady }: AlignmentRequest, { moments, clock }: Explanation): number =>
  steady ? 1 : median(moments.map((_, moment) => clock.ratio(moment)))

/** The lag that most notes of the hand have to strokes of their key which the other hand did not need. */
function commonLag(
  own: readonly ExpectedNote[],
  { played, beatMs }: AlignmentRequest,
  alone: Explanation,
): number | undefined {
  const needed = new Set(alone.standsFor.filter(stroke => stroke !== null && alone.steps[stroke]!.kind === 'match'))
  const byKey = new Map<number, number[]>()
  played.forEach(({ pitch, onsetMs }, stroke) => {
    if (!needed.has(stroke)) gather(byKey, pitch, onsetMs)
  })
  const takeMs = clockOf(alone)
  const reachMs = MOST_BEATS * beatMs
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

/** Score ms to take ms, through the moments that were heard. */
function clockOf({ clock, moments }: Explanation): (scoreMs: number) => number {
  const anchors = clock.anchors.flat().sort((a, b) => a.moment - b.moment)
  const at = (anchor: Anchor) => moments[anchor.moment]!.atMs
  const anchorBy = bisector(at)
  return scoreMs => {
    if (anchors.length < 2) return scoreMs
    const next = Math.max(1, anchorBy.left(anchors, scoreMs, 0, anchors.length - 1))
    const after = anchors[next]!
    const before = anchors[next - 1]!
    return before.atMs + ((after.atMs - before.atMs) * (scoreMs - at(before))) / (at(after) - at(before))
  }
}

/**
 * Explains the take with one hand's notes moved in time; the answer is in the order of the notes as they are written.
 */
function explainShifted(request: AlignmentRequest, hand: Hand, byMs: number): Explanation {
  const moved = request.expected
    .map((note, index) => ({
      index,
      note: note.hand === hand ? { ...note, onsetMs: note.onsetMs + byMs, momentMs: note.momentMs + byMs } : note,
    }))
    .sort((a, b) => a.note.onsetMs - b.note.onsetMs || a.note.pitch - b.note.pitch)
  const found = explain({ ...request, expected: moved.map(({ note }) => note) })
  const standsFor = new Array<number | null>(moved.length)
  const momentOf = new Int32Array(moved.length)
  moved.forEach(({ index }, place) => {
    standsFor[index] = found.standsFor[place]!
    momentOf[index] = found.momentOf[place]!
  })
  const moments = found.moments.map(moment => ({ ...moment, notes: moment.notes.map(place => moved[place]!.index) }))
  return { ...found, standsFor, momentOf, moments }
}
