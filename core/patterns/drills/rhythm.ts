import { add, multiply, quarters, subtract, toDecimal, ZERO, type Quarters } from '../../music/quarters'
import type { DrillRhythm } from './recipe'

/** A moment of a line in time: which moments of it are struck, when, for how long; accented or not. */
export interface Timed {
  readonly moments: readonly number[]
  readonly at: Quarters
  readonly length: Quarters
  readonly isAccented?: boolean
}

/** Dotted: three to one. */
const DOTTED = quarters(3, 2)

/**
 * A number of events of equal `value`, from 0, all lengths in quarter notes; `beat`: a felt beat. The last one is at
 * least a beat long. Groups have a rest after them up to the next beat, of at least half a beat.
 */
export function inRhythm(count: number, value: Quarters, beat: Quarters, rhythm: DrillRhythm): Timed[] {
  const each = Array.from({ length: count }, (_, index) => index)
  const even = (index: number) => multiply(value, quarters(index))
  const lastLonger = (timed: Timed[]): Timed[] =>
    timed.map((one, index) =>
      index === timed.length - 1 && toDecimal(one.length) < toDecimal(beat) ? { ...one, length: beat } : one,
    )
  switch (rhythm) {
    case 'as-it-is':
      return lastLonger(each.map(index => ({ moments: [index], at: even(index), length: value })))
    case 'long-short':
    case 'short-long': {
      const [long, short] = [multiply(value, DOTTED), subtract(add(value, value), multiply(value, DOTTED))]
      const first = rhythm === 'long-short' ? long : short
      return lastLonger(
        each.map((index): Timed => {
          const isFirst = index % 2 === 0
          return {
            moments: [index],
            at: add(even(index - (index % 2)), isFirst ? ZERO : first),
            length: isFirst ? first : subtract(add(value, value), first),
          }
        }),
      )
    }
    case 'groups-2':
    case 'groups-3':
    case 'groups-4': {
      const size = Number(rhythm.slice(-1))
      const played = (toDecimal(value) * size) / toDecimal(beat)
      const period = multiply(beat, quarters(Math.ceil(played + 0.5 - 1e-9)))
      return lastLonger(
        each.map(index => ({
          moments: [index],
          at: add(multiply(period, quarters(Math.floor(index / size))), even(index % size)),
          length: value,
        })),
      )
    }
    case 'accents-3':
    case 'accents-4': {
      const every = Number(rhythm.slice(-1))
      return lastLonger(
        each.map(index => ({
          moments: [index],
          at: even(index),
          length: value,
          ...(index % every === 0 ? { isAccented: true } : {}),
        })),
      )
    }
    case 'blocks': {
      const perBeat = Math.max(1, Math.round(toDecimal(beat) / toDecimal(value)))
      return lastLonger(
        Array.from({ length: Math.ceil(count / perBeat) }, (_, block) => ({
          moments: each.slice(block * perBeat, (block + 1) * perBeat),
          at: multiply(beat, quarters(block)),
          length: beat,
        })),
      )
    }
  }
}
