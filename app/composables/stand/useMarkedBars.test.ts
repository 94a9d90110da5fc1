import { nextTick, ref, shallowRef } from 'vue'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../../tests/material/demo'
import { expectedNotes, spanPassage, type ScoreSpan } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { useMarkedBars } from './useMarkedBars'
import { useTappedTempo } from '../sound/useTappedTempo'

/** In 4/4, after a pickup of a quarter: bars of four quarters from 1 on. */
const { arrangement } = demoScore('lantern-ferry.musicxml')
const bars = (first: number, last: number): ScoreSpan => ({
  from: quarters(1 + 4 * (first - 1)),
  to: quarters(1 + 4 * last),
})
const BPM = 60

/** Bars 3 to 6, at `atMs` of a pass of them. */
function marking() {
  const [stretch, atMs, marked] = [shallowRef(bars(3, 6)), ref<number>(), [] as ScoreSpan[]]
  const made = useMarkedBars({
    arrangement,
    stretch: () => stretch.value,
    atMs: () => atMs.value,
    expected: () => expectedNotes(arrangement, spanPassage(stretch.value.from, stretch.value.to, 'both'), BPM),
    mark(next) {
      marked.push(next)
      stretch.value = next
    },
  })
  return { ...made, atMs, marked, stretch }
}

describe('bars marked from the keys', () => {
  it('begin and end at the bar that was played last', async () => {
    const { markEdge, atMs, marked } = marking()
    atMs.value = 4200
    await nextTick()
    atMs.value = undefined
    markEdge('from')
    await nextTick()
    markEdge('to')
    expect(marked).toEqual([bars(4, 6), bars(4, 4)])
  })

  it('begin at the first one before anything was played, and where what is played no longer holds the bar', async () => {
    const { markEdge, stretch, atMs, marked } = marking()
    markEdge('to')
    await nextTick()
    atMs.value = 1000
    stretch.value = bars(9, 12)
    await nextTick()
    markEdge('to')
    expect(marked).toEqual([bars(3, 3), bars(9, 9)])
  })

  it('move, grow, and have their edges a beat further; what changes nothing is not marked', () => {
    const { moveBars, growBars, stepEdge, mark, marked } = marking()
    moveBars(1)
    growBars(-1)
    stepEdge('to', 1)
    mark({ from: quarters(13), to: quarters(26) })
    expect(marked).toEqual([bars(4, 7), bars(4, 6), { from: quarters(13), to: quarters(26) }])
  })
})

describe('a tempo that is tapped', () => {
  it('is told from the second tap on, whole beats a minute', () => {
    const told: number[] = []
    let at = 0
    const { tap } = useTappedTempo(
      beats => told.push(beats),
      () => at,
    )
    for (at of [0, 500, 1010]) tap()
    expect(told).toEqual([120, 119])
  })
})
