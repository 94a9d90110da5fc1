import { EACH_HAND } from '#core/music/arrangement'
import type { Arrangement, Hand } from '../music/arrangement'
import { add, subtract } from '../music/quarters'

/**
 * Bars `from` to `from + bars - 1` (by index) play what the bars from `earlier` on play: moved by so many half steps;
 * `share` of the notes are the same. `kinds`: how many of the bars are different from each other.
 */
export interface Return {
  from: number
  earlier: number
  bars: number
  transposedBy: number
  share: number
  kinds: number
}

type Run = Omit<Return, 'kinds'>

/** Own choice. */
const RETURNS = {
  /** Two bars are alike from this share of common notes on, and a return is one from that share over all its bars. */
  likeBar: 0.5,
  likeAll: 0.7,
  /** So many bars are the least that return; a single one is a figure. */
  leastBars: 2,
  /** Beyond so many bars only bars that are the same note for note are looked for. */
  mostBarsNear: 600,
} as const

/**
 * What a hand plays in a bar: each note by its place in the bar and its key; all of them as one number, equal for equal
 * bars; and so with the keys counted from the first.
 */
interface BarPrint {
  notes: Map<string, number>
  same: number
  moved: number
  first: number
  count: number
}

/**
 * What comes back in a song, as diagonals of the bars' self-similarity (Foote 2000, Automatic audio segmentation using
 * a measure of audio novelty; Müller 2015, Fundamentals of Music Processing, ch. 4; unchecked): runs of bars that
 * both hands (or the given ones) play as they played earlier ones, exactly or nearly, or moved by an interval. Longest
 * first. Grows with the square of the bars.
 */
export function returnsOf(arrangement: Arrangement, hands: readonly Hand[] = EACH_HAND): Return[] {
  const prints = hands.map(hand => printsOf(arrangement, hand))
  const count = arrangement.bars.length
  const isNear = count <= RETURNS.mostBarsNear
  const found: Run[] = []
  for (let lag = 1; lag < count; lag++) {
    let run: { from: number; shares: number[] } | undefined
    const close = () => {
      if (run) addRun(found, run.from, lag, run.shares)
      run = undefined
    }
    for (let bar = lag; bar < count; bar++) {
      const share = likeness(prints, bar, bar - lag, isNear)
      const isLike = share !== undefined && share >= RETURNS.likeBar
      // One bar in between may differ.
      if (run && share !== undefined && !isLike && run.shares.at(-1)! < RETURNS.likeBar) close()
      if (isLike) run ??= { from: bar, shares: [] }
      run?.shares.push(share ?? Number.NaN)
    }
    close()
    addTransposed(found, prints, lag, count)
  }
  const texts = arrangement.bars.map((_, bar) => prints.map(hand => hand[bar]!.same).join())
  return found
    .map(one => ({ ...one, kinds: new Set(texts.slice(one.from, one.from + one.bars)).size }))
    .sort((a, b) => b.bars * b.share - a.bars * a.share || a.from - b.from || a.earlier - b.earlier)
}

/** A run of alike bars, without bars at its end that rest or are not alike. */
function addRun(found: Run[], from: number, lag: number, shares: readonly number[]): void {
  const last = shares.findLastIndex(share => share >= RETURNS.likeBar)
  const real = shares.slice(0, last + 1).filter(share => !Number.isNaN(share))
  const share = real.reduce((sum, one) => sum + one, 0) / Math.max(1, real.length)
  if (real.length >= RETURNS.leastBars && share >= RETURNS.likeAll)
    found.push({ from, earlier: from - lag, bars: last + 1, transposedBy: 0, share })
}

/** Runs of bars that are moved by the same interval in all hands. */
function addTransposed(found: Run[], prints: readonly BarPrint[][], lag: number, count: number): void {
  let from = -1
  let by = 0
  const close = (to: number) => {
    if (from >= 0 && by !== 0 && to - from >= RETURNS.leastBars)
      found.push({ from, earlier: from - lag, bars: to - from, transposedBy: by, share: 1 })
    from = -1
  }
  for (let bar = lag; bar < count; bar++) {
    const moved = interval(prints, bar, bar - lag)
    if (from >= 0 && moved !== by) close(bar)
    if (from < 0 && moved !== undefined) [from, by] = [bar, moved]
  }
  close(count)
}

function interval(prints: readonly BarPrint[][], bar: number, earlier: number): number | undefined {
  let by: number | undefined
  for (const hand of prints) {
    const [here, there] = [hand[bar]!, hand[earlier]!]
    if (here.count === 0 && there.count === 0) continue
    if (here.moved !== there.moved || (by !== undefined && here.first - there.first !== by)) return undefined
    by = here.first - there.first
  }
  return by
}

/** The share of notes that two bars have in common; undefined where all hands rest in both. */
function likeness(prints: readonly BarPrint[][], bar: number, other: number, isNear: boolean): number | undefined {
  let common = 0
  let all = 0
  for (const hand of prints) {
    const [here, there] = [hand[bar]!, hand[other]!]
    all += Math.max(here.count, there.count)
    if (here.same === there.same) common += here.count
    else if (isNear) for (const key of here.notes.keys()) if (there.notes.has(key)) common++
  }
  return all === 0 ? undefined : common / all
}

function printsOf(arrangement: Arrangement, hand: Hand): BarPrint[] {
  const numbers = new Map<string, number>()
  const numberOf = (text: string) => {
    if (!numbers.has(text)) numbers.set(text, numbers.size)
    return numbers.get(text)!
  }
  const inBars: { place: string; pitch: number }[][] = arrangement.bars.map(() => [])
  for (const { hand: own, grace, barIndex, onset, pitch } of arrangement.notes) {
    if (own !== hand || grace) continue
    const bar = arrangement.bars[barIndex]!
    const { n, d } = add(bar.offset, subtract(onset, bar.start))
    inBars[barIndex]!.push({ place: `${n}/${d}`, pitch })
  }
  return inBars.map(notes => {
    const sorted = [...notes].sort((a, b) => (a.place < b.place ? -1 : a.place > b.place ? 1 : a.pitch - b.pitch))
    const first = sorted[0]?.pitch ?? 0
    return {
      notes: new Map(sorted.map(note => [`${note.place} ${note.pitch}`, note.pitch])),
      count: sorted.length,
      first,
      same: numberOf(sorted.map(note => `${note.place} ${note.pitch}`).join()),
      moved: numberOf(`moved ${sorted.map(note => `${note.place} ${note.pitch - first}`).join()}`),
    }
  })
}
