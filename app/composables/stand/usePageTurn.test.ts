import { nextTick, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import type { Row } from '#core/music/rows'
import { quarters } from '#core/music/quarters'
import { usePageTurn } from './usePageTurn'

const rowsOf = (count: number): Row[] =>
  Array.from({ length: count }, (_, row) => ({
    stretch: { from: quarters(16 * row), to: quarters(16 * row + 16) },
    fromMs: 10_000 * row,
    toMs: 10_000 * (row + 1),
  }))

describe('the page', () => {
  /** Goes through the moments and gives what stands on the page at each. */
  async function through(count: number, moments: (number | undefined)[], rowsAtOnce = 2) {
    const atMs = ref<number>()
    const rows = rowsOf(count)
    const page = usePageTurn(
      () => rows,
      () => rowsAtOnce,
      () => atMs.value,
    )
    const seen: string[] = []
    for (const moment of moments) {
      atMs.value = moment
      await nextTick()
      seen.push(`${page.slots.value.join()}${page.playing.value === undefined ? '' : ` playing ${page.playing.value}`}`)
    }
    return { page, seen }
  }

  it('turns the row that is not played, a moment after the other one has begun', async () => {
    const { seen } = await through(5, [-4000, 0, 9000, 10_000, 10_900, 11_000, 20_000, 21_500, 30_000, 33_000])
    expect(seen).toEqual([
      '0,1 playing 0',
      '0,1 playing 0',
      '0,1 playing 0',
      '0,1 playing 1',
      '0,1 playing 1',
      '2,1 playing 1',
      '2,1 playing 2',
      '2,3 playing 2',
      '2,3 playing 3',
      '4,3 playing 3',
    ])
  })
  it('goes round: after the last row comes the first, where it already stands', async () => {
    for (const count of [3, 4, 5]) {
      const last = count - 1
      const moments = Array.from({ length: count }, (_, row) => 10_000 * row + 2000)
      const { seen } = await through(count, [...moments, 0, 2000])
      const [atEnd, again, on] = seen.slice(-3).map(one => one.split(' ')[0]!.split(',').map(Number))
      expect([...atEnd!].sort()).toEqual([0, last])
      expect(again).toEqual(atEnd)
      // The first row stays where it stood; the other one has turned to the second.
      expect(on!.indexOf(0)).toBe(atEnd!.indexOf(0))
      expect([...on!].sort()).toEqual([0, 1])
    }
  })
  it('follows a jump, and begins again when playing stops', async () => {
    const { seen } = await through(6, [0, 2000, 45_000, undefined])
    expect(seen).toEqual(['0,1 playing 0', '0,1 playing 0', '4,5 playing 4', '0,1'])
  })
  it('turns all rows that were left behind, and none where all stand on the page', async () => {
    expect((await through(5, [0, 11_000, 21_000, 31_000, 41_000, 1000], 3)).seen.map(one => one.split(' ')[0])).toEqual(
      ['0,1,2', '3,1,2', '3,4,2', '3,4,0', '1,4,0', '1,2,0'],
    )
    expect((await through(3, [0, 11_000, 21_000, undefined], 3)).seen.map(one => one.split(' ')[0])).toEqual([
      '0,1,2',
      '0,1,2',
      '0,1,2',
      '0,1,2',
    ])
    expect((await through(3, [0, 11_000, 21_000, 1000], 1)).seen.map(one => one.split(' ')[0])).toEqual([
      '0',
      '1',
      '2',
      '0',
    ])
  })
  it('is leafed through in peace, and not beyond its ends', async () => {
    const { page } = await through(5, [undefined])
    const seen = [2, 2, 2, -2, -2, -2].map(by => {
      page.leaf(by)
      return page.slots.value.join()
    })
    expect(seen).toEqual(['2,3', '3,4', '3,4', '1,2', '0,1', '0,1'])
  })
})
