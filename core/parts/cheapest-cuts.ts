/** Own choice: the cost of a part's size, on the scale of the evidence for its edges. */
const SIZES = {
  /**
   * A part at all, so that weak evidence makes no edge; twice or half the wished size, growing with the square; no
   * whole number of bars; a length that the song's phrases do not have.
   */
  part: 2.2,
  doubled: 1.2,
  broken: 0.45,
  unsteady: 0.35,
  /** A part that begins between the places where phrases of four bars would, and reaches across one of them. */
  across: 2,
  /** Once, for phrases of an odd number of bars, and for phrases of all lengths. */
  oddSong: 0.4,
  freeSong: 0.7,
  /** For each bar that a part is too short, or too long, where it cannot be otherwise. */
  short: 400,
  beyond: 100,
}

/**
 * A place to cut, so many bars from the beginning, and from that of its section where four bars fit into it, and what
 * speaks for it.
 */
export interface Cut {
  bars: number
  value: number
  sinceSection?: number
}
/** The wished number of bars of a part, and its bounds. */
export interface Size {
  wish: number
  least: number
  most: number
}

/**
 * The best places of all to cut a song of `end` bars: the most evidence for the least cost of sizes, over the whole
 * song at once (dynamic programming), once for each length that its phrases may have. `places` in order; gives indices
 * into them. Linear in the places.
 */
export function bestSegmentation(places: readonly Cut[], end: number, size: Size): number[] {
  const all: Cut[] = [{ bars: 0, value: 0 }, ...places, { bars: end, value: 0 }]
  const ways = PHRASES.map(phrase => shortestPath(all, size, phrase))
  return ways.reduce((best, way) => (way.cost < best.cost - 1e-9 ? way : best)).chosen
}

/** Bars of a phrase, at which a song may go on: in twos (and fours), in threes, in fives, or in any. */
const PHRASES = [2, 3, 5, 1]

function shortestPath(all: readonly Cut[], size: Size, phrase: number): { cost: number; chosen: number[] } {
  const best = [{ cost: phrase === 1 ? SIZES.freeSong : phrase % 2 === 1 ? SIZES.oddSong : 0, from: -1 }]
  let open = 0
  for (let index = 1; index < all.length; index++) {
    // Edges too far back for any part are dropped, except the nearest such edge.
    while (open < index - 1 && all[index]!.bars - all[open + 1]!.bars >= size.most + 1e-6) open++
    let way = { cost: Number.POSITIVE_INFINITY, from: open }
    for (let from = open; from < index; from++) {
      const cost =
        best[from]!.cost +
        sizeCost(all[index]!.bars - all[from]!.bars, size, phrase, all[from]!.sinceSection) -
        all[index]!.value
      if (cost < way.cost - 1e-9) way = { cost, from }
    }
    best.push(way)
  }
  const chosen: number[] = []
  for (let index = best.at(-1)!.from; index > 0; index = best[index]!.from) chosen.unshift(index - 1)
  return { cost: best.at(-1)!.cost, chosen }
}

function sizeCost(bars: number, { wish, least, most }: Size, phrase: number, since: number | undefined): number {
  const beyond = SIZES.short * Math.max(0, least - bars - 1e-6) + SIZES.beyond * Math.max(0, bars - most - 1e-6)
  const whole = Math.round(bars)
  const isBroken = Math.abs(bars - whole) > 1e-6
  return (
    SIZES.part +
    SIZES.doubled * Math.log2(Math.max(bars, 1e-3) / wish) ** 2 +
    (since !== undefined && isAcross(since, bars) ? SIZES.across : 0) +
    (isBroken ? SIZES.broken : whole % phrase !== 0 ? SIZES.unsteady : 0) +
    beyond
  )
}

/**
 * Whether a part that begins so many bars into its section reaches over where the next phrase of four bars would begin,
 * but not from where one would.
 */
function isAcross(since: number, bars: number): boolean {
  const into = since - 4 * Math.floor(since / 4 + 0.125)
  return into >= 0.5 && into + bars > 4.5
}
