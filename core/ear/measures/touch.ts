import { EACH_HAND } from '#core/music/arrangement'
import { bisector } from 'd3-array'
import type { Hand } from '../../music/arrangement'
import type { Heard, HeardNote } from '../heard'
import { median } from '../statistics'
import type { TakePedal } from '../take'

/** How a hand holds its notes. */
export interface Touch {
  hand: Hand
  /** Median of held ÷ written time of notes that lead on to the next and are not marked shorter. */
  articulation: number
  count: number
  /** Notes released before the tolerance, worst first. */
  released: HeardNote[]
  /** Notes held into the next of their line beyond the tolerance, worst first, with the overlap in ms. */
  blurred: { note: HeardNote; ms: number }[]
}

const SHORT_MARKS = ['staccato', 'staccatissimo', 'detached-legato', 'spiccato', 'breath-mark', 'caesura']

/** Held ÷ written time; undefined where the keyboard sent no release or there is no length to hold. */
export const articulationOf = ({ stroke, written, ratio }: HeardNote): number | undefined =>
  stroke && !stroke.unreleased && written.durationMs > 0 ? stroke.durationMs / (written.durationMs * ratio) : undefined

/**
 * How each hand connects the notes of a line: releasing early, or holding into the next. With the pedal down this
 * cannot be heard.
 */
export function touches(heard: Heard): Touch[] {
  const { notes, take, ear } = heard
  const { releasedShare, blurredShare, blurredMs } = ear.tolerances
  return EACH_HAND.flatMap((hand): Touch[] => {
    const own = notes.filter(
      note => note.written.hand === hand && note.outcome === 'right' && !note.written.grace && !note.written.ornaments,
    )
    const lines = own.map((note, index) => ({ note, next: nextOf(own, index) }))
    const shares: number[] = []
    const released: HeardNote[] = []
    const blurred: Touch['blurred'] = []
    for (const { note, next } of lines) {
      const share = articulationOf(note)
      if (share === undefined || !next || pedalDownAt(take.pedals, note.stroke!.onsetMs + note.stroke!.durationMs))
        continue
      const endMs = note.written.onsetMs + note.written.durationMs
      const leadsOn = next.written.onsetMs - endMs < 0.1 * note.written.durationMs
      const stepMs = next.stroke!.onsetMs - note.stroke!.onsetMs
      const overlapMs = note.stroke!.durationMs - stepMs
      if (
        endMs <= next.written.onsetMs + 1 &&
        stepMs > 0 &&
        overlapMs > Math.max(blurredMs, blurredShare * (next.written.durationMs * next.ratio))
      )
        blurred.push({ note, ms: overlapMs })
      if (!leadsOn || note.written.articulations?.some(mark => SHORT_MARKS.includes(mark))) continue
      shares.push(share)
      if (share < releasedShare) released.push(note)
    }
    if (shares.length === 0) return []
    return [
      {
        hand,
        articulation: median(shares),
        count: shares.length,
        released,
        blurred: blurred.sort((a, b) => b.ms - a.ms),
      },
    ]
  })
}

/** The next note of the hand's line that begins when this one ends or later, on another key. */
function nextOf(own: readonly HeardNote[], index: number): HeardNote | undefined {
  const { written } = own[index]!
  const endMs = written.onsetMs + written.durationMs
  for (let at = index + 1; at < own.length && at < index + 12; at++) {
    const other = own[at]!
    if (other.written.onsetMs >= endMs - 1) return other.written.pitch === written.pitch ? undefined : other
  }
  return undefined
}

const pedalBy = bisector((pedal: TakePedal) => pedal.atMs)

const pedalDownAt = (pedals: readonly TakePedal[], atMs: number): boolean =>
  pedals[pedalBy.right(pedals, atMs) - 1]?.down ?? false
