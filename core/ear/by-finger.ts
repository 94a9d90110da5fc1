import { EACH_HAND } from '#core/music/arrangement'
import { group } from 'd3-array'
import { standardDeviation } from 'simple-statistics'
import type { Hand } from '../music/arrangement'
import type { NoteAssessment } from './assessment'
import { median } from './statistics'

/** How one finger of a hand played, by the written fingering. */
export interface FingerEvenness {
  hand: Hand
  finger: number
  notes: number
  /** Median lateness against the whole hand, ms; negative is early. */
  lateMs: number
  /** Standard deviation of the finger's notes, ms. */
  spreadMs: number
  /** How much louder than its hand as a whole, MIDI velocities. */
  louder: number
  /** Lateness and spread combined, ms. */
  unevenMs: number
}

/** Fewer notes than this say nothing (own choice). */
const FEWEST = 4

/**
 * The evenness of each finger over the right notes that have one, thumb first, right hand first; fingers with fewer
 * than four notes are left out. Empty where no fingers are written.
 */
export function evennessByFinger(notes: readonly NoteAssessment[]): FingerEvenness[] {
  const timed = notes.filter(
    (note): note is NoteAssessment & { finger: number; deviationMs: number } =>
      note.finger !== undefined && note.deviationMs !== null && note.outcome === 'right',
  )
  return EACH_HAND.flatMap(hand => {
    const own = timed.filter(note => note.hand === hand)
    const [middle, loud] = [median(own.map(note => note.deviationMs)), median(own.flatMap(note => note.velocity ?? []))]
    return [...group(own, note => note.finger)]
      .filter(([, its]) => its.length >= FEWEST)
      .sort(([a], [b]) => a - b)
      .map(([finger, its]): FingerEvenness => {
        const lateMs = median(its.map(note => note.deviationMs)) - middle
        const spreadMs = standardDeviation(its.map(note => note.deviationMs))
        return {
          hand,
          finger,
          notes: its.length,
          lateMs,
          spreadMs,
          louder: median(its.flatMap(note => note.velocity ?? [])) - loud,
          unevenMs: Math.hypot(lateMs, spreadMs),
        }
      })
  })
}

/** The finger that was least even; undefined where none is known. */
export const leastEven = (fingers: readonly FingerEvenness[]): FingerEvenness | undefined =>
  fingers.reduce<FingerEvenness | undefined>(
    (worst, one) => (worst && worst.unevenMs >= one.unevenMs ? worst : one),
    undefined,
  )
