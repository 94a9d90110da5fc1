import { bisector } from 'd3-array'
import type { Hand } from '../music/arrangement'
import type { ExpectedNote } from '../music/passage'
import { median } from './statistics'

/** All written notes that are meant to sound together, grace notes with the note they lead to. */
export interface Moment {
  /** When it is due, ms in score time. */
  atMs: number
  /** Indices into the expected notes, in their order. */
  notes: number[]
  /** The keys of `notes`, one for each. */
  pitches: number[]
  /** The hands of `notes`. */
  hands: Hand[]
  /** Keys that may be struck freely while this moment is the newest: the notes of a trill or turn that is sounding. */
  free: number[]
  /** Keys that are tied over about here, and should only be held. */
  tied: number[]
  /** The first moment of its bar: where people like to take up again. */
  startsBar: boolean
}

/** How far the further strokes of an ornament may lie from its written note, in half steps. */
export const ORNAMENT_REACH = 2

/** Groups expected notes (sorted by due time) into moments, in order of time. */
export function momentsOf(expected: readonly ExpectedNote[]): Moment[] {
  const order = expected.map((_, index) => index).sort((a, b) => expected[a]!.momentMs - expected[b]!.momentMs || a - b)
  const moments: Moment[] = []
  let trills: ExpectedNote[] = []
  for (const index of order) {
    const note = expected[index]!
    let moment = moments.at(-1)
    if (!moment || note.momentMs - moment.atMs > 1) {
      trills = trills.filter(one => one.momentMs + one.durationMs > note.momentMs)
      const before = moment && expected[moment.notes.at(-1)!]!
      moment = {
        atMs: note.momentMs,
        notes: [],
        pitches: [],
        hands: [],
        free: trills.flatMap(aroundOrnament),
        tied: [],
        startsBar: before?.bar !== note.bar,
      }
      moments.push(moment)
    }
    moment.notes.push(index)
    moment.pitches.push(note.pitch)
    moment.hands.push(note.hand)
    if (note.ornaments) {
      trills.push(note)
      moment.free.push(...aroundOrnament(note))
    }
  }
  for (const { pitch, ties } of expected) {
    for (const { atMs } of ties ?? []) {
      // A tie is struck again where its notehead stands, on the beat or with what else is struck there.
      const here = momentBy.right(moments, atMs + 1) - 1
      for (const moment of [moments[here], moments[here - 1]])
        if (moment && moment.atMs > atMs - 1000) moment.tied.push(pitch)
    }
  }
  return moments
}

/**
 * How far the left hand comes behind the right at each moment where both have struck something, ms. `onsetMs`: when a
 * note (by index) was struck; undefined for one that was not, or that does not count.
 */
export function lagsAtCoincidences(
  moments: readonly Pick<Moment, 'notes' | 'hands'>[],
  onsetMs: (note: number) => number | undefined,
): number[] {
  const lags: number[] = []
  for (const { notes, hands } of moments) {
    if (!hands.includes('left') || !hands.includes('right')) continue
    const struck = { left: [] as number[], right: [] as number[] }
    notes.forEach((note, place) => {
      const atMs = onsetMs(note)
      if (atMs !== undefined) struck[hands[place]!].push(atMs)
    })
    if (struck.left.length > 0 && struck.right.length > 0) lags.push(median(struck.left) - median(struck.right))
  }
  return lags
}

const momentBy = bisector((moment: Moment) => moment.atMs)

const aroundOrnament = ({ pitch }: ExpectedNote): number[] =>
  Array.from({ length: 2 * ORNAMENT_REACH + 1 }, (_, step) => pitch - ORNAMENT_REACH + step)
