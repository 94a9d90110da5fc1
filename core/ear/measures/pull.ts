import { EACH_HAND } from '#core/music/arrangement'
import { bisectLeft } from 'd3-array'
import type { Hand } from '../../music/arrangement'
import type { Heard, HeardNote } from '../heard'
import { median } from '../statistics'

/**
 * One hand drawn off its own grid by the other's, where their notes do not divide into each other: by how many ms, and
 * at which notes.
 */
export interface Pull {
  hand: Hand
  ms: number
  notes: HeardNote[]
  against: { own: number; other: number }
}

/** Own choice: the number of notes needed, and the share of them pulled the same way. */
const LEAST = { notes: 6, share: 0.8 } as const
const SAME = { ms: 1, ratio: 0.05 } as const

/**
 * Which hand pulls the other off in three against two and the like. Considered are the notes of each hand between the
 * other's, where both go evenly and neither step is a multiple of the other; measured is how far they lie towards the
 * other hand's nearest note, after subtracting the hand's own lateness. Gives the hand pulled farther; undefined where
 * none is.
 */
export function pullOf({ notes }: Heard): Pull | undefined {
  const pulls = EACH_HAND.flatMap(hand => pullOn(hand, notes) ?? [])
  return pulls.sort((a, b) => b.ms - a.ms)[0]
}

function pullOn(hand: Hand, notes: readonly HeardNote[]): Pull | undefined {
  const own = gridOf(notes.filter(note => note.written.hand === hand))
  const other = gridOf(notes.filter(note => note.written.hand !== hand))
  const usual = median(
    notes.flatMap(note =>
      note.written.hand === hand && note.outcome === 'right' && note.deviationMs !== undefined
        ? [note.deviationMs]
        : [],
    ),
  )
  const found: { note: HeardNote; towardsMs: number; own: number; other: number }[] = []
  for (const note of notes) {
    const {
      written: { eventMs: at },
      outcome,
      deviationMs,
    } = note
    if (note.written.hand !== hand || note.written.grace || outcome !== 'right' || deviationMs === undefined) continue
    const step = stepAt(own, at)
    const around = gapAround(other, at)
    if (step === undefined || around === undefined || divides(step, around.length)) continue
    const [before, after] = [at - around.from, around.from + around.length - at]
    const late = deviationMs - usual
    // Halfway between two notes of the other hand it may be drawn to either, if always to the same one.
    found.push({
      note,
      towardsMs: Math.abs(before - after) <= SAME.ms ? late : before < after ? -late : late,
      own: step,
      other: around.length,
    })
  }
  if (found.length < LEAST.notes) return undefined
  const way = Math.sign(median(found.map(one => one.towardsMs)))
  const isMiddle = found.every(
    ({ note, other: length }) =>
      Math.abs(gapAround(other, note.written.eventMs)!.from + length / 2 - note.written.eventMs) <= SAME.ms,
  )
  // Away from the other hand's notes: not pulled.
  if (way === 0 || (way < 0 && !isMiddle)) return undefined
  const drawn = found.filter(one => Math.sign(one.towardsMs) === way)
  if (drawn.length < LEAST.share * found.length) return undefined
  const [first] = found
  return {
    hand,
    ms: Math.abs(median(found.map(one => one.towardsMs))),
    notes: drawn.map(one => one.note),
    against: smallest(first!.other, first!.own),
  }
}

/** The events of a hand's notes, ms in the score's time, in order. */
const gridOf = (notes: readonly HeardNote[]): number[] =>
  [...new Set(notes.filter(note => !note.written.grace).map(note => note.written.eventMs))].sort((a, b) => a - b)

/** The step of an even run at this time; undefined where it is not even, or at its end. */
function stepAt(grid: readonly number[], at: number): number | undefined {
  const place = bisectLeft(grid, at - SAME.ms)
  const [before, after] = [grid[place - 1], grid[place + 1]]
  if (before === undefined || after === undefined) return undefined
  return Math.abs(at - before - (after - at)) <= SAME.ms ? at - before : undefined
}

/** The gap between the other hand's notes that holds this time; undefined on a note, and outside. */
function gapAround(grid: readonly number[], at: number): { from: number; length: number } | undefined {
  const next = bisectLeft(grid, at - SAME.ms)
  const [from, to] = [grid[next - 1], grid[next]]
  return from === undefined || to === undefined || Math.abs(to - at) <= SAME.ms
    ? undefined
    : { from, length: to - from }
}

/** Whether one step goes into the other a whole number of times. */
function divides(one: number, other: number): boolean {
  const ratio = Math.max(one, other) / Math.min(one, other)
  return Math.abs(ratio - Math.round(ratio)) < SAME.ratio
}

/** A ratio in small whole numbers: three against two. */
function smallest(one: number, other: number): { own: number; other: number } {
  for (let own = 1; own <= 12; own++) {
    const count = (own * other) / one
    if (Math.abs(count - Math.round(count)) < SAME.ratio) return { own, other: Math.round(count) }
  }
  return { own: Math.round(one), other: Math.round(other) }
}
