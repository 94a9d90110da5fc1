import { Chord } from 'tonal'
import { drillOf, withHandExchanged } from '#core/formats/arranged'
import { readMusicXml } from '#core/formats/musicxml/read'
import { readSong } from '#core/formats/read-score'
import { READY_DRILLS } from '#core/patterns/drills/bank'
import { editionAt, LEVELS } from '#core/patterns/editions'
import { handPatternNamed } from '#core/patterns/hand-patterns'
import { repeatedBars } from './long-score'
import { medianMs, report } from './report'

/**
 * How fast a left hand, an edition and a drill are made. The reference is spelling the same chords with tonal, or
 * copying the same arrangement.
 */
export function patterns(): void {
  const symbols = Array.from(
    { length: 64 },
    (_, bar) => ['C', 'Am7', 'F', 'G7/B', 'Em', 'Dm7', 'Bb', 'E7'][(bar * 5 + (bar >> 3)) % 8]!,
  )
  const chart = new TextEncoder().encode(`key: C\n${symbols.map(symbol => `| ${symbol} `).join('')}|`)
  const spelling = medianMs(9, () => symbols.map(symbol => Chord.get(symbol.split('/')[0]!)))
  for (const name of ['held-root', 'broken', 'walking', 'arpeggio-two']) {
    report(
      `a chart of 64 bars with the left hand "${name}", with its page`,
      'ms',
      medianMs(7, () => readSong(chart, 'chart.txt', { patterns: { left: handPatternNamed(name)! } })),
      50,
      'spelling its chords with tonal',
      spelling,
    )
  }
  const long = readMusicXml(repeatedBars(64))
  const copying = medianMs(9, () => structuredClone(long.arrangement))
  report(
    'another left hand for a song of 64 bars, in its own document',
    'ms',
    medianMs(5, () => withHandExchanged(long, { pattern: handPatternNamed('root-fifth')!, hand: 'left' })),
    150,
    'copying the arrangement',
    copying,
  )
  report(
    'all four levels of a song of 64 bars',
    'ms',
    medianMs(5, () => LEVELS.map(level => editionAt(long.arrangement, level))),
    400,
    'copying the arrangement',
    copying,
  )
  const longest = READY_DRILLS.find(({ name }) => name === 'scale-four')!
  const drill = drillOf({ title: '', ...longest.recipe })
  const copyingDrill = medianMs(9, () => structuredClone(drill.arrangement))
  report(
    'a scale of four octaves through twelve keys, fingered, with its page',
    'ms',
    medianMs(5, () => drillOf({ title: '', ...longest.recipe })),
    300,
    'copying the arrangement',
    copyingDrill,
  )
}
