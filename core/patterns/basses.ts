import { Note } from 'tonal'
import type { MidiPitch } from '../music/pitch'
import type { Limit } from './other-hand'

/** Where basses lie: between two keys, best near `home`, below `deep` only where there is need. */
export interface BassRoom {
  readonly lowest: MidiPitch
  readonly deep: MidiPitch
  readonly highest: MidiPitch
  readonly home: MidiPitch
}

/**
 * A bass note by name, how far above it the hand goes, half steps, what the other hand leaves, and the key below which
 * what is struck with it would be muddy.
 */
export interface BassToLay extends Limit {
  readonly bass: string
  readonly reachUp: number
  readonly clearFrom?: MidiPitch
}

/**
 * What a place costs: a half step from the one before, from home, over the other hand's keys, under what sounds clear,
 * and under the lowest line that is read easily. Own choice.
 */
const COST = { move: 1, away: 0.5, over: 50, muddy: 6, deep: 4 } as const

/**
 * The keys of basses, each near the one before it and near home, so that a bass that falls by steps in the symbols
 * falls by steps (common practice).
 */
export function layBasses(basses: readonly BassToLay[], room: BassRoom): MidiPitch[] {
  let before: MidiPitch | undefined
  return basses.map(({ bass, reachUp, below = 128, above = -1, clearFrom = 0 }) => {
    const chroma = Note.chroma(bass)!
    let [best, least] = [room.home, Number.POSITIVE_INFINITY]
    for (let key = room.lowest + ((chroma - (room.lowest % 12) + 12) % 12); key <= room.highest; key += 12) {
      const over = Math.max(0, key + reachUp - below + 1) + Math.max(0, above + 1 - key)
      const cost =
        COST.move * Math.abs(key - (before ?? key)) +
        COST.away * Math.abs(key - room.home) +
        COST.over * over +
        (key < clearFrom ? COST.muddy : 0) +
        COST.deep * Math.max(0, room.deep - key)
      if (cost >= least) continue
      least = cost
      best = key
    }
    before = best
    return best
  })
}
