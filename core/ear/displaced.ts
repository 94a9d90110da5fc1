import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { explain, NO_JUMPS, type AlignmentRequest, type Explanation } from './explain'

/**
 * A take that costs so much for each note may have a hand in another place. The same for one that is understood with a
 * hand moved: it must cost less than this share.
 */
const DEAR = 0.9
const BETTER = 0.75
/** A hand may lie up to two octaves off; so much of what it has to play must then be found among the keys struck. */
const MOST_HALF_STEPS = 24
const FOUND_SHARE = 0.6
const LEAST_NOTES = 6

/** An explanation of a take in which one hand (or the only one) lies so many half steps from where it is written. */
export interface HandDisplaced {
  hand: Hand
  halfSteps: number
  explanation: Explanation
}

/**
 * One hand may lie an octave or a key away through the whole take, everything else right. Which keys were struck how
 * often says where it may lie; it is believed only when it explains the take much better. `undefined` when the hands
 * are where they belong.
 */
export function handDisplaced(request: AlignmentRequest, together: Explanation): HandDisplaced | undefined {
  const { expected, played } = request
  if (together.cost < DEAR * expected.length || played.length < LEAST_NOTES) return undefined
  let best: HandDisplaced | undefined
  for (const hand of ['left', 'right'] as const) {
    const own = expected.filter(note => note.hand === hand)
    if (own.length < LEAST_NOTES) continue
    const halfSteps = likeliestShift(
      own,
      expected.filter(note => note.hand !== hand),
      played,
    )
    if (halfSteps === undefined) continue
    const explanation = explain({ ...request, expected: movedHand(expected, hand, halfSteps) })
    if (explanation.cost < BETTER * (best?.explanation.cost ?? together.cost)) best = { hand, halfSteps, explanation }
  }
  return best
}

/**
 * A bar of a hand is lost when so much of it was not struck as written; so many notes of lost bars in a row are looked
 * into, at so many places at most.
 */
const LOST_SHARE = 0.5
const LEAST_LOST = 4
const MOST_PLACES = 4
/** A way with jumps that costs so much for each note may be another thing. */
const JUMPED_DEAR = 0.3
/** By how much less the whole take must cost with the hand moved there. */
const CHEAPER = 4

/** How a hand may lie off for a while: by white keys, or by an octave or two. */
const WHILE_SHIFTS: readonly ((pitch: number) => number)[] = [
  ...[1, -1, 2, -2].map(keys => (pitch: number) => byWhiteKeys(pitch, keys)),
  ...[12, -12, 1, -1, 2, -2, 24, -24].map(halfSteps => (pitch: number) => pitch + halfSteps),
]

const WHITE_KEYS = [0, 2, 4, 5, 7, 9, 11]

/** The key so many white keys away; a black key counts as the white one below it. */
export function byWhiteKeys(pitch: number, keys: number): number {
  const step = WHITE_KEYS.findLastIndex(white => white <= pitch % 12)
  const place = 7 * Math.floor(pitch / 12) + step + keys
  return 12 * Math.floor(place / 7) + WHITE_KEYS[((place % 7) + 7) % 7]!
}

/**
 * One hand may lie a key or an octave off for some bars. Where most of a hand's notes in a row of bars are not struck
 * as written, it is looked for among the keys that were; the take is explained anew with the hand there, and that is
 * believed when it costs clearly less.
 */
export function displacedForAWhile(request: AlignmentRequest, together: Explanation): Explanation {
  if (together.attempts.runs.length < 2 || together.cost < JUMPED_DEAR * request.expected.length)
    return movedForAWhile(request, together)
  // What sounds like jumps may be a hand among keys that are not its own.
  const straight = explain({
    ...request,
    ear: { ...request.ear, following: { ...request.ear.following, ...NO_JUMPS } },
  })
  const moved = movedForAWhile(request, straight)
  return moved !== straight && moved.cost < together.cost ? moved : movedForAWhile(request, together)
}

function movedForAWhile(request: AlignmentRequest, together: Explanation): Explanation {
  let best = together
  let places = 0
  for (const hand of ['right', 'left'] as const) {
    for (const notes of lostStretches(request, together, hand)) {
      if (places++ >= MOST_PLACES) return best
      const shift = shiftOf(request, together, notes)
      if (!shift) continue
      const moved = new Set(notes)
      // The way through the music is known; only the hand is looked for.
      const following =
        best.attempts.runs.length > 1 ? request.ear.following : { ...request.ear.following, ...NO_JUMPS }
      const explanation = explain({
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

/** The notes (by index) of a hand in bars in a row that were mostly not struck as written. */
function lostStretches({ expected, played }: AlignmentRequest, { standsFor }: Explanation, hand: Hand): number[][] {
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
  return stretches.filter(notes => notes.length >= LEAST_LOST).sort((a, b) => b.length - a.length)
}

/**
 * The shift at which most of these notes are found among the keys struck about there that the rest of the music does
 * not need.
 */
function shiftOf(
  { expected, played, beatMs }: AlignmentRequest,
  { standsFor, clock, momentOf }: Explanation,
  notes: readonly number[],
): ((pitch: number) => number) | undefined {
  const [first, last] = [clock.window(momentOf[notes[0]!]!), clock.window(momentOf[notes.at(-1)!]!)]
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

/**
 * By how much the hand's notes must be moved to be found most often among the keys that the other hand does not need.
 */
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
  for (let shift = -MOST_HALF_STEPS; shift <= MOST_HALF_STEPS; shift++) if (found(shift) > found(best)) best = shift
  return best !== 0 && found(best) >= FOUND_SHARE * own.length ? best : undefined
}

function countsOf(notes: readonly { pitch: number }[]): number[] {
  const counts = new Array<number>(128).fill(0)
  for (const { pitch } of notes) if (pitch >= 0 && pitch < 128) counts[pitch]!++
  return counts
}
