import type { Arrangement } from './arrangement'
import { passageClock, type Passage } from './passage'
import { add, compare } from './quarters'

/** A syllable and when it is sung, ms from the beginning; `hyphen`: the word goes on with the next. */
export interface Syllable {
  text: string
  atMs: number
  hyphen: boolean
}
/** What is sung in some bars, as it stands in a line. */
export interface SungLine {
  fromMs: number
  toMs: number
  syllables: Syllable[]
}

/** Bars to a line: as much as is sung in a breath (common practice: phrases of two and four bars). */
const BARS_IN_A_LINE = 2

/**
 * The words of a passage in lines of two bars, first verse, at a tempo in quarter notes a minute; lines on which
 * nothing is sung are left out. A pickup belongs to the line that it leads to.
 */
export function sungLines(arrangement: Arrangement, passage: Passage, bpm?: number): SungLine[] {
  const clock = passageClock(arrangement, passage, bpm)
  const verse = arrangement.lyrics[0]?.verse
  const own = arrangement.lyrics.filter(lyric => lyric.verse === verse)
  return passage.stretches.flatMap(({ from, to }, index) => {
    const bars = arrangement.bars.filter(
      bar => compare(add(bar.start, bar.length), from) > 0 && compare(bar.start, to) < 0,
    )
    const isPickup = bars[0] !== undefined && (compare(bars[0].start, from) < 0 || bars[0].offset.n !== 0)
    const begins = bars
      .filter((_, place) => (place + (isPickup ? 1 : 0)) % BARS_IN_A_LINE === 0 && !(isPickup && place === 1))
      .map(bar => bar.start)
    const edges = [from, ...begins.filter(start => compare(start, from) > 0), to]
    return edges.slice(0, -1).flatMap((edge, line): SungLine[] => {
      const next = edges[line + 1]!
      const syllables = own
        .filter(({ onset }) => compare(onset, edge) >= 0 && compare(onset, next) < 0)
        .map(({ text, onset, hyphen }) => ({ text, hyphen, atMs: clock.msAt(index, onset) }))
      return syllables.length === 0
        ? []
        : [{ fromMs: clock.msAt(index, edge), toMs: clock.msAt(index, next), syllables }]
    })
  })
}
