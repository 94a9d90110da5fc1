import { isBlack, type Finger } from './ergonomics'

/**
 * The hand over a chord or a broken chord: one finger for each key, from the thumb outward. Where the fingers lie
 * between thumb and little finger, in half steps from the thumb, for a hand opened so far; between these widths in
 * proportion. Set so that triads, their inversions and four-note chords come out as they are taught (common practice).
 */
const LYING: readonly (readonly [width: number, second: number, third: number, fourth: number])[] = [
  [7, 2, 4, 5],
  [8, 2.6, 4.8, 6.2],
  [9, 3.2, 5.4, 7],
  [10, 3.4, 6, 7.8],
  [12, 3.8, 6.6, 8.8],
  [16, 8, 11.5, 13.5],
]

/**
 * What it costs beside lying off: thumb or little finger on black where another would do; a tie goes to the third
 * finger. Own choice.
 */
const COST = { blackThumb: 0.5, blackFifth: 0.2, third: -0.06, fourth: 0.04 } as const

function lyingAt(width: number): readonly [number, number, number] {
  const clamped = Math.min(LYING.at(-1)![0], Math.max(LYING[0]![0], width))
  const above = LYING.findIndex(([at]) => at >= clamped)
  const [high, low] = [LYING[above]!, LYING[Math.max(0, above - 1)]!]
  const share = high[0] === low[0] ? 0 : (clamped - low[0]) / (high[0] - low[0])
  const between = (index: 1 | 2 | 3) => low[index] + share * (high[index] - low[index])
  return [between(1), between(2), between(3)]
}

/** The least that two outer fingers are apart when a chord is taken with thumb and little finger. */
const WHOLE_HAND = 6

export interface HandShape {
  fingers: Finger[]
  off: number
}

/**
 * Fingers for keys that lie under one hand, rising from the thumb (`keys` in half steps, mirrored for the left hand),
 * and how far off they lie, half steps. Three keys or more from a diminished fifth on take thumb and little finger.
 * `kept`: fingers that are given. Undefined where no way is left.
 */
export function shapeOf(
  keys: readonly number[],
  pitches: readonly number[],
  kept: readonly (Finger | undefined)[] = [],
): HandShape | undefined {
  const width = keys.at(-1)! - keys[0]!
  if (keys.length > 5) return undefined
  const isWhole = keys.length >= 3 && width >= WHOLE_HAND
  let best: HandShape | undefined
  const ways = (at: number, fingers: Finger[]): void => {
    if (at === keys.length) {
      if (isWhole && kept.every(one => one === undefined) && (fingers[0] !== 1 || fingers.at(-1) !== 5)) return
      const off = shapeDeviation(keys, pitches, fingers)
      if (!best || off < best.off - 1e-9) best = { fingers: [...fingers], off }
      return
    }
    for (let finger = (fingers.at(-1) ?? 0) + 1; finger <= 5 - (keys.length - at - 1); finger++) {
      if (kept[at] === undefined || kept[at] === finger) ways(at + 1, [...fingers, finger as Finger])
    }
  }
  ways(0, [])
  return best
}

/** How far off keys lie for these fingers, half steps in all. */
export function shapeDeviation(
  keys: readonly number[],
  pitches: readonly number[],
  fingers: readonly Finger[],
): number {
  const width = keys.at(-1)! - keys[0]!
  const [first, last] = [fingers[0]!, fingers.at(-1)!]
  // Opened as far as the outer fingers ask.
  const opened = first === 1 && last === 5 ? Math.max(7, width) : 7
  const lying = [0, ...lyingAt(opened), opened]
  const from = keys[0]! - lying[first - 1]!
  return keys.reduce((sum, key, at) => {
    const finger = fingers[at]!
    const black = isBlack(pitches[at]!) ? (finger === 1 ? COST.blackThumb : finger === 5 ? COST.blackFifth : 0) : 0
    return (
      sum +
      Math.abs(key - from - lying[finger - 1]!) +
      black +
      (finger === 3 ? COST.third : finger === 4 ? COST.fourth : 0)
    )
  }, 0)
}
