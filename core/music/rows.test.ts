import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { attributes, bytesOf, pianoScore, quarterNotes } from '../../tests/material/score'
import { proposeParts } from '../parts/propose'
import { readMusicXml } from '../formats/musicxml/read'
import { chordAhead } from './chord-ahead'
import { loopPlan } from './loop'
import { arrangementEnd, barAt, type Arrangement } from './arrangement'
import { expectedNotes, playedPassage, spanPassage, type Passage } from './passage'
import { quarters, ZERO, type Quarters } from './quarters'
import { barGroups, rowAt, rowsOf as rowsFrom } from './rows'

const repeat = (direction: 'forward' | 'backward') =>
  `<barline location="${direction === 'forward' ? 'left' : 'right'}"><repeat direction="${direction}"/></barline>`
const harmony = (step: string) => `<harmony><root><root-step>${step}</root-step></root><kind>major</kind></harmony>`
const BAR = quarterNotes('C4 D4 E4 F4')
/** Six bars, the second to the fourth twice: 1, 2 3 4, 2 3 4, 5 6. */
const { arrangement: twice } = readMusicXml(
  bytesOf(
    pianoScore([
      attributes() + harmony('C') + BAR,
      repeat('forward') + harmony('F') + BAR,
      BAR,
      harmony('G') + BAR + repeat('backward'),
      harmony('A') + BAR,
      BAR,
    ]),
  ),
)
const whole = (arrangement: Arrangement) =>
  playedPassage(arrangement, { from: ZERO, to: arrangementEnd(arrangement) }, 'right')
/** Rows of so many bars at most. */
function rowsOf(arrangement: Arrangement, passage: Passage, bpm: number, breaks: readonly Quarters[] = [], most = 4) {
  const groups = barGroups(arrangement, passage, breaks)
  return rowsFrom(
    arrangement,
    passage,
    bpm,
    groups,
    groups.flatMap(({ bars }) =>
      Array.from(
        { length: Math.ceil(bars.length / most) },
        (_, row, count = Math.ceil(bars.length / most)) =>
          Math.round(((row + 1) * bars.length) / count) - Math.round((row * bars.length) / count),
      ),
    ),
  )
}
const shown = (arrangement: Arrangement, rows: ReturnType<typeof rowsFrom>) =>
  rows.map(({ stretch, fromMs, toMs }) => {
    const last = arrangement.bars.findLast(bar => bar.start.n / bar.start.d < stretch.to.n / stretch.to.d)!
    return `${barAt(arrangement, stretch.from).number}-${last.number} ${fromMs / 1000}-${toMs / 1000}`
  })

describe('the whole song', () => {
  it('is played as it goes, and less of it as it is written', () => {
    expect(expectedNotes(twice, whole(twice), 60)).toHaveLength(36)
    const part = { from: quarters(4), to: quarters(24) }
    expect(playedPassage(twice, part, 'both')).toEqual(spanPassage(part.from, part.to, 'both'))
    expect(expectedNotes(twice, whole(twice), 60).filter(note => note.time === 2)).toHaveLength(12)
  })
  it('clicks on over its repeats', () => {
    const { clicks, roundMs } = loopPlan(twice, whole(twice), 60)
    expect(roundMs).toBe(36_000)
    expect(clicks.map(click => click.atMs)).toEqual(Array.from({ length: 36 }, (_, beat) => beat * 1000))
    expect(clicks.map(click => click.beat)).toEqual(Array.from({ length: 36 }, (_, beat) => (beat % 4) + 1))
  })
  it('has the chord that is coming, also where the music goes back', () => {
    const at = (beat: number) => chordAhead(twice, whole(twice), 60, beat * 1000)
    expect([at(-4), at(0), at(4), at(12), at(14), at(16), at(24), at(30)].map(chord => chord!.symbol)).toEqual([
      'C',
      'F',
      'G',
      'F',
      'F',
      'G',
      'A',
      'A',
    ])
    expect(at(30)!.isNow).toBe(true)
    expect(at(-4)!.isNow).toBe(false)
    expect(chordAhead(twice, spanPassage(quarters(8), quarters(12), 'right'), 60, 0)).toBeUndefined()
  })
})

describe('the rows of a passage', () => {
  it('begin where the music goes back, and come in playing order', () => {
    expect(shown(twice, rowsOf(twice, whole(twice), 60))).toEqual(['1-4 0-16', '2-4 16-28', '5-6 28-36'])
    expect(shown(twice, rowsOf(twice, whole(twice), 60, [quarters(8)]))).toEqual([
      '1-2 0-8',
      '3-4 8-16',
      '2-4 16-28',
      '5-6 28-36',
    ])
    // A bar alone is no row of its own.
    expect(shown(twice, rowsOf(twice, whole(twice), 60, [quarters(4), quarters(20)]))).toEqual([
      '1-4 0-16',
      '2-4 16-28',
      '5-6 28-36',
    ])
    expect(shown(twice, rowsOf(twice, spanPassage(quarters(0), quarters(24), 'both'), 120, [], 2))).toEqual([
      '1-2 0-4',
      '3-4 4-8',
      '5-6 8-12',
    ])
  })
  it('follow each other, with a pickup in the first', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    const rows = rowsOf(
      arrangement,
      whole(arrangement),
      60,
      proposeParts(arrangement).map(part => part.from),
    )
    expect(shown(arrangement, rows)[0]).toMatch(/^0-/)
    // Every note is in one row, and rows follow each other.
    for (const [index, row] of rows.entries()) expect(row.fromMs).toBeCloseTo(rows[index - 1]?.toMs ?? 0, 6)
    expect(rows.every(row => row.toMs - row.fromMs <= 5 * 4000)).toBe(true)
  })
  it('are found by the moment', () => {
    const rows = rowsOf(twice, whole(twice), 60)
    expect([-3000, 0, 15_999.5, 17_000, 99_000].map(ms => rowAt(rows, ms))).toEqual([0, 0, 1, 1, 2])
  })
})
