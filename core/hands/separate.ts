import { mean } from 'simple-statistics'
import type { Hand } from '../music/arrangement'
import type { MidiPitch } from '../music/pitch'

/** A note to give to a hand, or that has one. Times in any one unit (quarter notes, seconds), as `unitSeconds` says. */
export interface LooseNote {
  onset: number
  end: number
  pitch: MidiPitch
  hand?: Hand
}

/**
 * What makes a way of playing unlikely. Own choice, set on music of other kinds than the demo's; the span is a large
 * hand's (common practice).
 */
export const SEPARATION = {
  /** Half steps one hand takes at once; each beyond costs. */
  easySpan: 7,
  beyondEasySpan: 0.25,
  span: 12,
  beyondSpan: 6,
  hardSpan: 16,
  beyondHardSpan: 40,
  /** A hand that moves: for each half step, falling with the time it has. */
  move: 0.22,
  easySeconds: 0.5,
  /**
   * Where the hands are at home, and what it costs to leave, for each half step; how far home moves with what is played
   * around, and over how many moments.
   */
  middle: 60,
  wrongSide: 0.16,
  follows: 0.7,
  around: 8,
  /** An octave in one hand is no stretch (common practice). */
  octave: 12,
  /** The hands crossed: the left above the right. */
  crossed: 2.5,
  /** Notes struck together that lie closer than this usually belong to one hand: for each half step. */
  apart: 9,
  tooClose: 0.3,
  /** A hand that strikes while it holds an earlier note plays two rhythms at once. */
  twoRhythms: 1.9,
  /** A hand that strikes more notes or fewer than the time before: for each, at most so many. */
  otherTexture: 0.5,
  mostTexture: 2,
  /** A key that the other hand has just played. */
  takenOver: 1.2,
  /** A note that is known to be the other hand's. */
  known: 1_000,
  /** More notes than this in one hand at once: for each. */
  voices: 5,
  tooManyVoices: 8,
  /** Notes struck or held at once, of which each way to share them out is looked at. */
  mostAtOnce: 40,
  /** Ways followed at a time; fewer in files of more notes than this, so that none takes long. */
  beam: 48,
  fullBeamNotes: 10_000,
  leastBeam: 6,
} as const

interface HandState {
  low: number
  high: number
  at: number
  held: { pitch: number; end: number }[]
  last: number[]
}
interface Way {
  cost: number
  left: HandState
  right: HandState
  split: number
  before?: Way
}

/**
 * Gives each note of one staff or track to a hand, from pitch, the span of a hand, how far it would have to move, and
 * what it still holds: the cheapest way through all moments, found by following the best ways side by side. A moment's
 * lower notes go to the left hand. Notes that have a hand keep it. `notes` sorted by onset; `unitSeconds` is the length
 * of a time unit. Gives a hand for every note.
 */
export function separateHands(notes: readonly LooseNote[], unitSeconds: number): Hand[] {
  const moments: { from: number; to: number }[] = []
  for (let from = 0; from < notes.length;) {
    let to = from + 1
    while (to < notes.length && notes[to]!.onset - notes[from]!.onset < 1e-6) to++
    moments.push({ from, to })
    from = to
  }
  const start = (centre: number): HandState => ({
    low: centre - 4,
    high: centre + 4,
    at: Number.NEGATIVE_INFINITY,
    held: [],
    last: [],
  })
  const beam = Math.max(
    SEPARATION.leastBeam,
    Math.min(SEPARATION.beam, Math.round((SEPARATION.beam * SEPARATION.fullBeamNotes) / notes.length)),
  )
  let ways: Way[] = [{ cost: 0, left: start(48), right: start(72), split: 0 }]
  const homes = homesOf(notes, moments)
  for (const [index, { from, to }] of moments.entries()) {
    const middle = homes[index]!
    const chord = notes.slice(from, to).sort((a, b) => a.pitch - b.pitch)
    const next: Way[] = []
    for (const way of ways) {
      for (const split of splitsOf(chord, middle)) {
        const left = play(way.left, chord.slice(0, split), unitSeconds, 'left', middle, way.right.last)
        const right = play(way.right, chord.slice(split), unitSeconds, 'right', middle, way.left.last)
        const isCrossed =
          left.state.high > right.state.low &&
          left.state.at > Number.NEGATIVE_INFINITY &&
          right.state.at > Number.NEGATIVE_INFINITY
        const gap = split > 0 && split < chord.length ? chord[split]!.pitch - chord[split - 1]!.pitch : SEPARATION.apart
        const close = Math.max(0, SEPARATION.apart - gap) * SEPARATION.tooClose
        next.push({
          cost: way.cost + left.cost + right.cost + close + (isCrossed ? SEPARATION.crossed : 0),
          left: left.state,
          right: right.state,
          split,
          before: way,
        })
      }
    }
    ways = next.sort((a, b) => a.cost - b.cost).slice(0, beam)
  }
  const hands: Hand[] = Array.from({ length: notes.length })
  let way: Way | undefined = ways[0]
  for (let index = moments.length - 1; index >= 0 && way; index--, way = way.before) {
    const { from, to } = moments[index]!
    const order = Array.from({ length: to - from }, (_, place) => from + place).sort(
      (a, b) => notes[a]!.pitch - notes[b]!.pitch,
    )
    order.forEach((note, place) => {
      hands[note] = notes[note]!.hand ?? (place < way!.split ? 'left' : 'right')
    })
  }
  return hands
}

/**
 * How many of a chord's lower notes the left hand may take: any, unless there are more notes than two hands have
 * fingers several times over.
 */
function splitsOf(chord: readonly LooseNote[], middle: number): number[] {
  if (chord.length <= SEPARATION.mostAtOnce) return Array.from({ length: chord.length + 1 }, (_, split) => split)
  const above = chord.findIndex(note => note.pitch >= middle)
  return [above < 0 ? chord.length : above]
}

/**
 * Where the middle between the hands is at each moment: half way between the outer notes around it, and the middle of
 * the keyboard.
 */
function homesOf(notes: readonly LooseNote[], moments: readonly { from: number; to: number }[]): number[] {
  const { middle, follows, around } = SEPARATION
  const edges = moments.map(({ from, to }) => {
    const pitches = notes.slice(from, to).map(note => note.pitch)
    return (Math.min(...pitches) + Math.max(...pitches)) / 2
  })
  return edges.map(
    (_, index) => middle + follows * (mean(edges.slice(Math.max(0, index - around), index + around + 1)) - middle),
  )
}

function play(
  hand: HandState,
  chord: readonly LooseNote[],
  unitSeconds: number,
  side: Hand,
  middle: number,
  otherLast: readonly number[],
): { state: HandState; cost: number } {
  if (chord.length === 0) return { state: hand, cost: 0 }
  const {
    easySpan,
    beyondEasySpan,
    span,
    beyondSpan,
    hardSpan,
    beyondHardSpan,
    move,
    easySeconds,
    octave,
    wrongSide,
    voices,
    tooManyVoices,
    known,
  } = SEPARATION
  const onset = chord[0]!.onset
  const held = hand.held.filter(one => one.end > onset + 1e-6)
  const low = chord[0]!.pitch
  const high = chord.at(-1)!.pitch
  const lowest = Math.min(low, ...held.map(one => one.pitch))
  const highest = Math.max(high, ...held.map(one => one.pitch))
  let cost = 0
  const stretch = high - low
  cost +=
    (stretch === octave && side === 'left' ? 0 : Math.max(0, stretch - easySpan)) * beyondEasySpan +
    Math.max(0, stretch - span) * beyondSpan +
    Math.max(0, stretch - hardSpan) * beyondHardSpan
  // A key that is only written as held can be let go, or be kept by the pedal: half as bad.
  const withHeld = highest - lowest
  cost += (Math.max(0, withHeld - span) * beyondSpan) / 4
  for (const { pitch } of chord)
    if (otherLast.includes(pitch) && !hand.last.includes(pitch)) cost += SEPARATION.takenOver
  if (held.length > 0) cost += SEPARATION.twoRhythms
  if (hand.last.length > 0)
    cost += SEPARATION.otherTexture * Math.min(SEPARATION.mostTexture, Math.abs(hand.last.length - chord.length))
  cost += Math.max(0, chord.length + held.length - voices) * tooManyVoices
  const distance = Math.max(0, low < hand.low ? hand.low - low : 0, high > hand.high ? high - hand.high : 0)
  const seconds = Math.max(0.05, (onset - hand.at) * unitSeconds)
  cost += distance * move * Math.min(3, easySeconds / seconds + 0.35)
  for (const { pitch, hand: own } of chord)
    cost +=
      Math.max(0, side === 'left' ? pitch - middle : middle - pitch) * wrongSide +
      (own !== undefined && own !== side ? known : 0)
  const keepLow = Math.min(low, Math.max(hand.low, high - span))
  const keepHigh = Math.max(high, Math.min(hand.high, low + span))
  return {
    cost,
    state: {
      low: Math.max(keepLow, high - span),
      high: Math.min(keepHigh, low + span),
      at: onset,
      held: [...held, ...chord.map(one => ({ pitch: one.pitch, end: one.end }))].slice(-SEPARATION.mostAtOnce),
      last: chord.map(one => one.pitch),
    },
  }
}
