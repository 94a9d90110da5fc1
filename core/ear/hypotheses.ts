/** No displacement of the hand is known. */
export const NO_SHIFT = 127

/** The hypotheses about where the player is after some strokes, with their costs. Arrays of the same length. */
export interface Hypotheses {
  size: number
  event: Int32Array
  cost: Float64Array
  /** When the first stroke of the event fell. */
  enteredMs: Float64Array
  /** Take ms for one score ms, as heard recently. */
  ratio: Float64Array
  /** With a click: how far behind it the player continues after a stop or a hesitation, ms. */
  lagMs: Float64Array
  /** The number of events the ratio is based on. */
  heard: Uint16Array
  /** Bit mask of the event's keys that have been struck. */
  struck: Int32Array
  /** Parity of the jumps so far: a player who has just jumped to a place is kept apart from one who never left it. */
  parity: Uint8Array
  /** Distance of the last wrong key from its note, and its hand; NO_SHIFT once that hand has struck a right key. */
  shift: Int8Array
  shiftIsLeft: Uint8Array
  /** Whether the last stroke was extra: trial keys come in groups. */
  tries: Uint8Array
}

export const createHypotheses = (capacity: number): Hypotheses => ({
  size: 0,
  event: new Int32Array(capacity),
  cost: new Float64Array(capacity),
  enteredMs: new Float64Array(capacity),
  ratio: new Float64Array(capacity),
  lagMs: new Float64Array(capacity),
  heard: new Uint16Array(capacity),
  struck: new Int32Array(capacity),
  parity: new Uint8Array(capacity),
  shift: new Int8Array(capacity),
  shiftIsLeft: new Uint8Array(capacity),
  tries: new Uint8Array(capacity),
})

const KINDS = ['match', 'wrong', 'extra'] as const

/** The place of one stroke in the score. */
export interface FollowedStroke {
  /** Index of the moment it belongs to; -1 for a stroke before the music began. */
  event: number
  /** `match`: one of the event's keys; `wrong`: meant for one of them; `extra`: matches nothing. */
  kind: 'match' | 'wrong' | 'extra'
  /** The player jumped: back for a restart, or forward over a gap. */
  jumped: boolean
}

/**
 * Back pointers of the hypotheses, stroke by stroke, in two growing lists: origin slot with kind and jump bit, and the
 * matched event.
 */
export function createHistory() {
  let origins = new Int32Array(4096)
  let matches = new Int32Array(4096)
  const starts: number[] = []
  let start = 0
  let end = 0
  const step = (stroke: number, slot: number): FollowedStroke => {
    const origin = origins[starts[stroke]! + slot]!
    return { event: matches[starts[stroke]! + slot]!, kind: KINDS[(origin >> 1) & 3]!, jumped: (origin & 1) === 1 }
  }
  return {
    begin() {
      start = end
      starts.push(start)
    },
    grow(size: number) {
      end = start + size
      if (end <= origins.length) return
      const [oldOrigins, oldMatches] = [origins, matches]
      origins = new Int32Array(2 * oldOrigins.length)
      matches = new Int32Array(2 * oldMatches.length)
      origins.set(oldOrigins)
      matches.set(oldMatches)
    },
    set(slot: number, from: number, matched: number, kind: number, jumped: boolean) {
      origins[start + slot] = (from << 3) | (kind << 1) | (jumped ? 1 : 0)
      matches[start + slot] = matched
    },
    at: step,
    back(strokes: number, last: number): FollowedStroke[] {
      const steps = new Array<FollowedStroke>(strokes)
      let at = last
      for (let stroke = strokes - 1; stroke >= 0; stroke--) {
        steps[stroke] = step(stroke, at)
        at = origins[starts[stroke]! + at]! >> 3
      }
      return steps
    },
  }
}
