import { computed, ref, watch } from 'vue'
import type { Arrangement } from '#core/music/arrangement'
import { barsMarked, barsOfSpan, grown, moved, withEdge } from '#core/music/marked'
import { isSameSpan, type ExpectedNote, type ScoreSpan } from '#core/music/passage'
import { beatNear } from '#core/parts/edit'

/**
 * What bars are marked on: what is played now, its notes, and how far it has come (ms from its beginning; undefined
 * while nothing is played).
 */
export interface Marking {
  arrangement: Arrangement
  stretch: () => ScoreSpan
  expected: () => readonly ExpectedNote[]
  atMs: () => number | undefined
  /** Takes what was marked. */
  mark: (stretch: ScoreSpan) => void
}

/**
 * Marks bars from the keys: where they begin and end, moved and grown. What is marked begins or ends at the bar that is
 * played, or was played last.
 */
export function useMarkedBars({ arrangement, stretch, expected, atMs, mark }: Marking) {
  /** By index. */
  const barNow = ref(barsOfSpan(arrangement, stretch())[0])
  watch(atMs, at => {
    if (at !== undefined && at >= 0)
      barNow.value = expected().findLast(note => note.eventMs <= at)?.barIndex ?? barNow.value
  })
  watch(stretch, now => {
    const [first, last] = barsOfSpan(arrangement, now)
    if (barNow.value < first || barNow.value > last) barNow.value = first
  })
  const bar = computed(() => barsMarked(arrangement, barNow.value, barNow.value))

  const markNew = (next: ScoreSpan) => {
    if (!isSameSpan(next, stretch())) mark(next)
  }
  return {
    mark: markNew,
    markEdge: (edge: 'from' | 'to') => markNew(withEdge(arrangement, stretch(), edge, bar.value[edge])),
    /** An edge to the beat before or after. */
    stepEdge: (edge: 'from' | 'to', by: number) =>
      markNew(withEdge(arrangement, stretch(), edge, beatNear(arrangement, stretch()[edge], by))),
    moveBars: (by: number) => markNew(moved(arrangement, stretch(), by)),
    growBars: (by: number) => markNew(grown(arrangement, stretch(), by)),
  }
}
