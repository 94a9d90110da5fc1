import { barAt, type Arrangement, type Note } from './arrangement'
import { add, compare, earlier, later, subtract, type Quarters } from './quarters'

/**
 * Some bars of an arrangement as a small one of its own, for engraving: time begins at the first of them, notes that sound in from
 * before or on beyond are cut there, marks that hold from before stand at the beginning. Ids and bar numbers stay.
 */
export function sliceBars(arrangement: Arrangement, firstBar: number, lastBar: number): Arrangement {
  const [first, last] = [arrangement.bars[firstBar]!, arrangement.bars[lastBar]!]
  const from = first.start
  const to = add(last.start, last.length)
  const move = (at: Quarters) => subtract(at, from)
  const isIn = ({ onset }: { onset: Quarters }) => compare(onset, from) >= 0 && compare(onset, to) < 0
  const moved = <T extends { onset: Quarters }>(list: readonly T[]) => list.filter(isIn).map(one => ({ ...one, onset: move(one.onset) }))
  const held = <T extends { onset: Quarters }>(list: readonly T[]) => {
    const before = list.findLast(one => compare(one.onset, from) < 0)
    const inside = moved(list)
    return before && inside[0]?.onset.n !== 0 ? [{ ...before, onset: move(from) }, ...inside] : inside
  }
  const cut = <T extends Omit<Note, 'hand'>>(notes: readonly T[]) => notes
    .filter(note => note.grace ? isIn(note) : compare(add(note.onset, note.duration), from) > 0 && compare(note.onset, to) < 0)
    .map((note) => {
      const onset = later(note.onset, from)
      return { ...note, onset: move(onset), duration: note.grace ? note.duration : subtract(earlier(add(note.onset, note.duration), to), onset), barIndex: barAt(arrangement, onset).index - firstBar }
    })
  const notes = cut(arrangement.notes)
  const ids = new Set(notes.map(note => note.id))
  return {
    ...arrangement,
    bars: arrangement.bars.slice(firstBar, lastBar + 1).map(bar => ({ ...bar, index: bar.index - firstBar, start: move(bar.start) })),
    order: Array.from({ length: lastBar - firstBar + 1 }, (_, index) => index),
    notes, others: [], chords: moved(arrangement.chords), lyrics: moved(arrangement.lyrics), pedals: moved(arrangement.pedals), dynamics: moved(arrangement.dynamics),
    tempos: held(arrangement.tempos), swings: held(arrangement.swings ?? []), tempoWords: moved(arrangement.tempoWords ?? []), rehearsals: moved(arrangement.rehearsals),
    slurs: (arrangement.slurs ?? []).filter(slur => ids.has(slur.from) && ids.has(slur.to)), warnings: [],
  }
}
