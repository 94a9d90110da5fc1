import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { layOutPage, type BarSize, type PageRoom } from './page'

const bar = (width: number): BarSize => ({ width, above: 2, lines: 16, below: 2, lead: 6 })
const room = (widthPx: number, heightPx: number): PageRoom => ({
  widthPx,
  heightPx,
  besideRowPx: spacePx => 3 * spacePx + 10,
})
const SIZE = { leastPx: 10, mostPx: 18 }
const lay = (widths: number[], widthPx: number, heightPx: number, size = SIZE) =>
  layOutPage(widths.map(bar), [widths.map((_, index) => index)], room(widthPx, heightPx), size)
const rows = (layout: ReturnType<typeof lay>) => layout.rows.map(row => row.bars.length)

describe('bars on a page', () => {
  it('stand on one row where that is as large as may be', () => {
    const layout = lay([12, 12, 12, 12], 1240, 500)
    expect([layout.spacePx, rows(layout), layout.rowsAtOnce]).toEqual([18, [4], 1])
  })
  it('are two and two in portrait, not three and one', () => {
    const layout = lay([15, 15, 15, 15], 780, 900)
    expect(rows(layout)).toEqual([2, 2])
    expect(layout.spacePx).toBe(18)
  })
  it('are as large as the height allows, and no larger', () => {
    const [low, high] = [
      lay([20, 20, 20, 20, 20, 20, 20, 20], 1240, 480),
      lay([20, 20, 20, 20, 20, 20, 20, 20], 1240, 640),
    ]
    expect(low.spacePx).toBeGreaterThanOrEqual(10)
    expect(high.spacePx).toBeGreaterThan(low.spacePx)
    for (const [layout, heightPx] of [
      [low, 480],
      [high, 640],
    ] as const) {
      const needed = layout.rows.reduce((sum, row) => sum + row.heightPx, 0)
      expect(needed).toBeLessThanOrEqual(heightPx)
      expect(needed).toBeGreaterThan(0.75 * heightPx)
    }
  })
  it('turn where they do not fit at the least size, the page filled', () => {
    const layout = lay(
      Array.from({ length: 80 }, () => 15),
      1240,
      520,
    )
    expect(layout.rowsAtOnce).toBe(2)
    expect(layout.rows.length).toBeGreaterThanOrEqual(10)
    expect(layout.rows.every(row => row.heightPx === 260)).toBe(true)
    expect(layout.spacePx).toBeGreaterThanOrEqual(10)
  })
  it('leave room for the bar that comes next where one row stands alone', () => {
    const layout = lay(
      Array.from({ length: 12 }, () => 15),
      640,
      240,
    )
    expect(layout.rowsAtOnce).toBe(1)
    for (const row of layout.rows.slice(0, -1))
      expect((6 + 15 * (row.bars.length + 1)) * layout.spacePx * 0.88).toBeLessThanOrEqual(640 + 1)
  })
  it('shrink a bar that is wider than the page, and no other', () => {
    const layout = lay([15, 200, 15], 800, 900)
    const wide = layout.rows.find(row => row.bars.includes(1))!
    expect(wide.bars).toEqual([1])
    expect(wide.spacePx).toBeLessThan(10)
    expect(layout.rows.filter(row => row !== wide).every(row => row.spacePx === layout.spacePx)).toBe(true)
  })
  it('are not pulled apart further than they can be read', () => {
    expect(lay([10], 1800, 900).widthPx).toBeLessThan(700)
  })

  it('all have a row, in order, never wider than the page and never smaller than asked, whatever there is to lay out', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 4, max: 60 }), { minLength: 1, maxLength: 60 }),
        fc.integer({ min: 320, max: 2000 }),
        fc.integer({ min: 120, max: 1400 }),
        (widths, widthPx, heightPx) => {
          const layout = lay(widths, widthPx, heightPx)
          expect(layout.rows.flatMap(row => row.bars)).toEqual(widths.map((_, index) => index))
          expect(layout.spacePx).toBeGreaterThanOrEqual(10)
          expect(layout.spacePx).toBeLessThanOrEqual(18)
          expect(layout.rowsAtOnce).toBeLessThanOrEqual(layout.rows.length)
          for (const row of layout.rows)
            expect(
              (6 + row.bars.reduce((sum, index) => sum + widths[index]!, 0)) * row.spacePx * 0.88,
            ).toBeLessThanOrEqual(widthPx + row.spacePx)
        },
      ),
    )
  })
})
