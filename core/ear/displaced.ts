import { EACH_HAND } from '#core/music/arrangement'
import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { bestAlignment, NO_JUMPS, type AlignmentRequest, type AlignmentHypothesis } from './alignment-hypothesis'

/**
 * Above this cost a note, a hand may be displaced; the hypothesis with the hand moved must then cost less than the
 * given share.
 */
const DEAR = 0.9
const BETTER = 0.75
/** A hand is looked for up to two octaves away, if this share of its notes is then found among the keys struck. */
const MAX_HALF_STEPS = 24
const FOUND_SHARE = 0.6
const MIN_NOTES = 6

/** A hypothesis in which one hand (or the only one) lies some half steps from where it is written. */
export interface HandDisplaced {
  hand: Hand
  halfSteps: number
  explanation: AlignmentHypothesis
}

/**
 * Looks for a hand an octave or a key away through the whole take with everything else right. The counts of the keys
 * struck suggest where; it is accepted only when it explains the take much better. `undefined` when the hands are in
 * place.
 */
export function handDisplaced(request: AlignmentRequest, together: AlignmentHypothesis): HandDisplaced | undefined {
  const { expected, played } = request
  if (together.cost < DEAR * expected.length || played.length < MIN_NOTES) return undefined
  let best: HandDisplaced | undefined
  for (const hand of ['left', 'right'] as const) {
    const own = expected.filter(note => note.hand === hand)
    if (own.length < MIN_NOTES) continue
    const halfSteps = likeliestShift(
      own,
      expected.filter(note => note.hand !== hand),
      played,
    )
    if (halfSteps === undefined) continue
    const explanation = bestAlignment({ ...request, expected: movedHand(expected, hand, halfSteps) })
    if (explanation.cost < BETTER * (best?.explanation.cost ?? together.cost)) best = { hand, halfSteps, explanation }
  }
  return best
}

/**
 * A bar is lost when less than this share of a hand's notes was struck as written; the notes a row of lost bars must
 * hold, and at most how many such places are examined.
 */
const LOST_SHARE = 0.5
const MIN_LOST = 4
const MAX_PLACES = 4
/** Above this cost a note, a path with jumps may be something else. */
const JUMPED_DEAR = 0.3
/** How much cheaper the whole take must become with the hand moved. */
const CHEAPER = 4

/** Displacements looked for over a few bars: by white keys, or by one or two octaves. */
const WHILE_SHIFTS: readonly ((pitch: number) => number)[] = [
  ...[1, -1, 2, -2].map(keys => (pitch: number) => byWhiteKeys(pitch, keys)),
  ...[12, -12, 1, -1, 2, -2, 24, -24].map(halfSteps => (pitch: number) => pitch + halfSteps),
]

const WHITE_KEYS = [0, 2, 4, 5, 7, 9, 11]

/** The key a number of white keys away; a black key counts as the white one below it. */
export function byWhiteKeys(pitch: number, keys: number): number {
  const step = WHITE_KEYS.findLastIndex(white => white <= pitch % 12)
  const place = 7 * Math.floor(pitch / 12) + step + keys
  return 12 * Math.floor(place / 7) + WHITE_KEYS[((place % 7) + 7) % 7]!
}

/**
 * Looks for a hand that is a key or an octave off for some bars. Where most of its notes in a row of bars were not
 * struck as written, they are searched for among the keys that were; the take is aligned again with the hand there, and
 * that is accepted when it costs clearly less.
 */
export function displacedForAWhile(request: AlignmentRequest, together: AlignmentHypothesis): AlignmentHypothesis {
  if (together.attempts.runs.length < 2 || together.cost < JUMPED_DEAR * request.expected.length)
    return movedForAWhile(request, together)
  // What looks like jumps may be a displaced hand.
  const straight = bestAlignment({
    ...request,
    ear: { ...request.ear, following: { ...request.ear.following, ...NO_JUMPS } },
  })
  const moved = movedForAWhile(request, straight)
  return moved !== straight && moved.cost < together.cost ? moved : movedForAWhile(request, together)
}

function movedForAWhile(request: AlignmentRequest, together: AlignmentHypothesis): AlignmentHypothesis {
  let best = together
  let places = 0
  for (const hand of EACH_HAND) {
    for (const notes of lostStretches(request, together, hand)) {
      if (places++ >= MAX_PLACES) return best
      const shift = shiftOf(request, together, notes)
      if (!shift) continue
      const moved = new Set(notes)
      // The path through the score is known; only the hand is searched for.
      const following =
        best.attempts.runs.length > 1 ? request.ear.following : { ...request.ear.following, ...NO_JUMPS }
      const explanation = bestAlignment({
        ...request,
        ear: { ...request.ear, following },
        expected: request.expected.map((note, index) =>
          moved.has(index) ? { ...note, pitch: shift(note.pitch) } : note,
        ),
      })
      if (explanation.cost < best.cost - CHEAPER) best = explanation
    }
  }
  return best
}

/** The notes (by index) of a hand in consecutive bars that were mostly not struck as written. */
function lostStretches(
  { expected, played }: AlignmentRequest,
  { standsFor }: AlignmentHypothesis,
  hand: Hand,
): number[][] {
  const bars: number[][] = []
  expected.forEach((note, index) => {
    if (note.hand !== hand) return
    const bar = bars.at(-1)
    const before = bar && expected[bar[0]!]!
    if (before && before.barIndex === note.barIndex && before.time === note.time) bar.push(index)
    else bars.push([index])
  })
  const isRight = (index: number) =>
    standsFor[index] !== null && played[standsFor[index]!]!.pitch === expected[index]!.pitch
  const stretches: number[][] = []
  let open: number[] | undefined
  for (const bar of bars) {
    const isLost = bar.filter(index => !isRight(index)).length >= LOST_SHARE * bar.length
    if (!isLost) open = undefined
    else if (open) open.push(...bar)
    else stretches.push((open = [...bar]))
  }
  return stretches.filter(notes => notes.length >= MIN_LOST).sort((a, b) => b.length - a.length)
}

/**
 * The displacement at which most of these notes are found among nearby keys that the rest of the music does not need.
 */
function shiftOf(
  { expected, played, beatMs }: AlignmentRequest,
  { standsFor, clock, eventOf }: AlignmentHypothesis,
  notes: readonly number[],
): ((pitch: number) => number) | undefined {
  const [first, last] = [clock.window(eventOf[notes[0]!]!), clock.window(eventOf[notes.at(-1)!]!)]
  if (!first || !last) return undefined
  const own = new Set(notes)
  const needed = new Set(
    standsFor.filter(
      (stroke, index) => stroke !== null && !own.has(index) && played[stroke]!.pitch === expected[index]!.pitch,
    ),
  )
  const left = countsOf(
    played.filter(
      ({ onsetMs }, stroke) => onsetMs >= first.fromMs - beatMs && onsetMs <= last.toMs + beatMs && !needed.has(stroke),
    ),
  )
  const found = (shift: (pitch: number) => number) => {
    const wanted = countsOf(notes.map(index => ({ pitch: shift(expected[index]!.pitch) })))
    return wanted.reduce((sum, count, pitch) => sum + Math.min(count, left[pitch]!), 0)
  }
  const [best] = WHILE_SHIFTS.map(shift => ({ shift, count: found(shift) })).sort((a, b) => b.count - a.count)
  return best && best.count >= FOUND_SHARE * notes.length && best.count > found(pitch => pitch) ? best.shift : undefined
}

/** The notes with one hand moved on the keyboard. */
const movedHand = (expected: readonly ExpectedNote[], hand: Hand, halfSteps: number): ExpectedNote[] =>
  expected.map(note => (note.hand === hand ? { ...note, pitch: note.pitch + halfSteps } : note))

/** The displacement at which the hand's notes are found most often among keys that the other hand does not need. */
function likeliestShift(
  own: readonly ExpectedNote[],
  others: readonly ExpectedNote[],
  played: readonly { pitch: number }[],
): number | undefined {
  const left = countsOf(played)
  for (const { pitch } of others) left[pitch] = Math.max(0, (left[pitch] ?? 0) - 1)
  const wanted = countsOf(own)
  const found = (shift: number) =>
    wanted.reduce((sum, count, pitch) => sum + Math.min(count, left[pitch + shift] ?? 0), 0)
  let best = 0
  for (let shift = -MAX_HALF_STEPS; shift <= MAX_HALF_STEPS; shift++) if (found(shift) > found(best)) best = shift
  return best !== 0 && found(best) >= FOUND_SHARE * own.length ? best : undefined
}

function countsOf(notes: readonly { pitch: number }[]): number[] {
  const counts = new Array<number>(128).fill(0)
  for (const { pitch } of notes) if (pitch >= 0 && pitch < 128) counts[pitch]!++
  return counts
}
