import { describe, expect, it } from 'vitest'
import { HAND_PATTERNS, handPatternNamed } from '#core/patterns/hand-patterns'
import { barOf } from '#core/patterns/hand-pattern'
import { gridOf, patternOfGrid, toggled, withDivision } from './patternGrid'

const root = () => gridOf(handPatternNamed('root-fifth')!)
const signs = (grid: ReturnType<typeof gridOf>, row = 0) => grid.rows[row]!.steps.join('')

describe('the grid of a pattern', () => {
  it('shows the bar in 4/4 of each that ships, and gives the same notes back', () => {
    for (const pattern of HAND_PATTERNS) {
      const grid = gridOf(pattern)
      const back = patternOfGrid(grid, pattern.name)
      const cycle = pattern.cycles.find(
        one => one.beats === back.cycles[0]!.beats && one.division === back.cycles[0]!.division,
      )!
      expect(barOf(back.cycles[0]!, back.cycles[0]!.bars[0]!)).toEqual(barOf(cycle, cycle.bars[0]!))
    }
  })
  it('goes from rest to struck, to held where something is to be held, to rest', () => {
    const once = toggled(root(), 0, 2)
    expect(signs(once)).toBe('x-x.')
    expect(signs(toggled(once, 0, 2))).toBe('x--.')
    expect(signs(toggled(toggled(once, 0, 2), 0, 2))).toBe('x-..')
  })
  it('lets what was held go with what held it', () => expect(signs(toggled(root(), 0, 0))).toBe('..' + '..'))
  it('strikes as is chosen, and changes what is struck otherwise', () => {
    expect(signs(toggled(root(), 0, 3, 'X'))).toBe('x-.X')
    expect(signs(toggled(root(), 0, 0, 'o'))).toBe('o-..')
  })
  it('keeps the rhythm in finer steps and back', () => {
    const finer = withDivision(root(), 2)
    expect([signs(finer), signs(finer, 1)]).toEqual(['x---....', '....x---'])
    expect(signs(withDivision(finer, 1))).toBe('x-..')
  })
  it('holds nothing where nothing is struck, and leaves empty rows out', () => {
    const grid = {
      ...root(),
      rows: [
        { tone: 'bass' as const, octave: 0, steps: ['.', '-', 'x', '-'] },
        { tone: 'third' as const, octave: 1, steps: ['.', '.', '.', '.'] },
      ],
    }
    expect(patternOfGrid(grid, 'a').cycles[0]!.bars).toEqual([{ bass: '..x-' }])
  })
})
