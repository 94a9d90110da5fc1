import type { Meter } from '#core/music/meter'
import { pulses } from '#core/music/meter'
import { metersOfHand, type HandPattern } from '#core/patterns/hand-pattern'
import type { ChordTone, Pattern } from '#core/patterns/pattern'

/** A row of the grid: a note of the chord, in octaves from where it lies, with a sign for each step. */
export interface GridRow {
  readonly tone: ChordTone
  readonly octave: number
  readonly steps: readonly string[]
}
/** A pattern of one bar as it is drawn. */
export interface Grid {
  readonly meter: string
  readonly division: Pattern['division']
  readonly rows: readonly GridRow[]
  readonly isOneRhythm: boolean
}

/** The rows by their names. */
export const TONE_WORDS: Readonly<Record<ChordTone, string>> = {
  root: 'root',
  bass: 'bass',
  third: 'third',
  fifth: 'fifth',
  sixth: 'sixth',
  seventh: 'seventh',
  octave: 'octave',
  guide: 'seventh or third',
  color: 'ninth, or what is added',
  approach: 'half step below the next root',
  walk: 'step toward the next root',
  low: 'lowest of three',
  middle: 'middle of three',
  high: 'highest of three',
  upper: 'all but the lowest',
  chord: 'whole chord',
}

export function meterOfGrid({ meter }: Pick<Grid, 'meter'>): Meter {
  const [beats, beatType] = meter.split('/').map(Number)
  return { beats: beats!, beatType: beatType! }
}

const stepsOf = ({ meter, division }: Pick<Grid, 'meter' | 'division'>): number =>
  pulses(meterOfGrid({ meter })).length * division

/** The first bar of a pattern on the grid, in 4/4 where it has one. */
export function gridOf(pattern: HandPattern): Grid {
  const meters = metersOfHand(pattern)
  const meter = meters.includes('4/4') ? '4/4' : (meters[0] ?? '4/4')
  const beats = pulses(meterOfGrid({ meter })).length
  const isInThirds = meter === '6/8' || meter === '12/8'
  const cycle = pattern.cycles.find(one => one.beats === beats && (!one.isCompound || isInThirds)) ?? pattern.cycles[0]!
  const { division } = cycle
  const rows = Object.entries(cycle.bars[0]!).map(([name, signs]): GridRow => {
    const tone = name.replace(/['|,]+$/, '') as ChordTone
    const marks = name.slice(tone.length)
    const plain = [...signs].filter(sign => sign !== '|' && sign !== ' ')
    return {
      tone,
      octave: marks.startsWith(',') ? -marks.length : marks.length,
      steps: Array.from({ length: stepsOf({ meter, division }) }, (_, step) => plain[step] ?? '.'),
    }
  })
  return { meter, division, rows, isOneRhythm: pattern.isOneRhythm ?? false }
}

/**
 * The grid as a pattern; rows are as long as the bar, whatever was drawn before the meter or the steps were changed.
 */
export function patternOfGrid(grid: Grid, name: string): HandPattern {
  const count = stepsOf(grid)
  const rows = grid.rows.map(({ tone, octave, steps }): [string, string] => {
    const signs = Array.from({ length: count }, (_, step) => steps[step] ?? '.')
    // What is held needs something to be held.
    const whole = signs.map((sign, step) => (sign === '-' && (step === 0 || signs[step - 1] === '.') ? '.' : sign))
    return [`${tone}${octave < 0 ? ','.repeat(-octave) : "'".repeat(octave)}`, whole.join('')]
  })
  const isCompound = meterOfGrid(grid).beatType === 8
  return {
    name,
    hands: ['left', 'right'],
    ...(grid.isOneRhythm ? { isOneRhythm: true as const } : {}),
    cycles: [
      {
        beats: pulses(meterOfGrid(grid)).length,
        division: grid.division,
        bars: [Object.fromEntries(rows.filter(([, signs]) => /[^.]/.test(signs)))],
        ...(isCompound && grid.division === 3 ? { isCompound: true as const } : {}),
      },
    ],
  }
}

/**
 * A cell clicked: from rest to struck, to held where there is something to hold, to rest. `stroke`: how it is struck.
 */
export function toggled(grid: Grid, row: number, step: number, stroke: StrokeSign = 'x'): Grid {
  const count = stepsOf(grid)
  const rows = grid.rows.map((one, index): GridRow => {
    if (index !== row) return one
    const steps = Array.from({ length: count }, (_, at) => one.steps[at] ?? '.')
    const canHold = step > 0 && steps[step - 1] !== '.'
    const now = steps[step]!
    steps[step] = now === '.' ? stroke : now !== '-' && now !== stroke ? stroke : now !== '-' && canHold ? '-' : '.'
    // What was held from it is let go with it.
    if (steps[step] === '.') for (let at = step + 1; steps[at] === '-'; at++) steps[at] = '.'
    return { ...one, steps }
  })
  return { ...grid, rows }
}

/**
 * The grid in other steps: what is struck stays on its beat where the new steps have that place, and is left out where
 * they have not.
 */
export function withDivision(grid: Grid, division: Grid['division']): Grid {
  const count = stepsOf({ meter: grid.meter, division })
  const rows = grid.rows.map((row): GridRow => {
    const steps = Array.from({ length: count }, () => '.')
    row.steps.forEach((sign, step) => {
      const [first, next] = [(step * division) / grid.division, ((step + 1) * division) / grid.division]
      if (sign === '.' || !Number.isInteger(first)) return
      for (let at = first; at < Math.min(next, count); at++) steps[at] = at === first ? sign : '-'
    })
    return { ...row, steps }
  })
  return { ...grid, division, rows }
}

/** What a click puts, by what it is called. */
export const STROKES = { x: 'plain', X: 'accented', o: 'soft', '/': 'slid into' } as const
export type StrokeSign = keyof typeof STROKES
