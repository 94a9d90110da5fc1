import { EACH_HAND } from '#core/music/arrangement'
import { Note } from 'tonal'
import { arrangementEnd, type Arrangement, type Hand, type Lyric, type Rehearsal } from '../../music/arrangement'
import { barLength, beatLength, type Meter } from '../../music/meter'
import { add, multiply, quarters, toDecimal, ZERO, type Quarters } from '../../music/quarters'
import { arrange } from '../../music/arrange'
import { keyOf } from '../../music/key'
import type { Guess } from '../../music/guess'
import type { NotationChoices } from '../../notate/notate'
import type { Harmony } from '../../music/song-harmony'
import { metersOfHand, type HandPattern } from '../../patterns/hand-pattern'
import { handPatternNamed } from '../../patterns/hand-patterns'
import { playPattern } from '../../patterns/play-pattern'
import { checkMeter, NoPattern, withHand } from '../../patterns/with-pattern'
import { UnusableInput } from '../unusable'
import type { Chart } from './chart'

/** What the hands play, where it is said. */
export type HandsPatterns = Readonly<Partial<Record<Hand, HandPattern>>>

export interface ChartChoices extends NotationChoices {
  /** What the hands play; where none is given the left hand holds each bass, and the right hand each chord. */
  patterns?: HandsPatterns
  /** Bars to a chord, where the chart itself has no bars: 1, or 1/2 for two chords a bar. */
  barsPerChord?: number
}

/** Where the key of a chart without one hears its basses and chords, MIDI pitches of C. */
const [BASS, CHORD] = [36, 60]
/** The tempo of a chart that gives none, quarter notes a minute (own choice). */
const TEMPO_TAKEN = 90

/**
 * The chart as an arrangement to practise: each hand plays a pattern to its chords, by default the left hand each bass
 * and the right hand the chord above it, in the inversions that lead from one to the next with the least movement.
 * Throws UnusableInput where a pattern has no form for the chart's meter.
 */
export function arrangeChart(
  chart: Chart,
  fallbackTitle: string,
  choices: ChartChoices = {},
): { arrangement: Arrangement; guesses: Guess[] } {
  const guesses: Guess[] = []
  const meter: Meter = choices.meter ?? chart.meter
  const barQuarters = barLength(meter)
  const perBar = chart.hasBars ? 1 : Math.max(1, Math.round(1 / (choices.barsPerChord ?? 1)))
  if (!chart.hasBars) guesses.push({ about: 'bars', kind: 'chord-lengths', chordsPerBar: perBar })
  const own = patternsOf(choices.patterns)
  guesses.push({ about: 'notes', kind: 'voiced', left: own.left.name, right: own.right.name })

  const events: {
    onset: Quarters
    chord: NonNullable<Chart['sections'][number]['bars'][number]['chords'][number]['chord']> | undefined
    words?: string
  }[] = []
  const rehearsals: Rehearsal[] = []
  const sectionEnds: Quarters[] = []
  let bar = ZERO
  for (const section of chart.sections) {
    if (section.name) rehearsals.push({ onset: bar, name: section.name })
    section.bars.forEach(({ chords }, index) => {
      const share = quarters(index % perBar, perBar)
      for (const { beat, chord, words } of chords) {
        const within = chart.hasBars
          ? multiply(beatLength(meter), quarters(Math.round(beat * 48), 48))
          : multiply(barQuarters, share)
        events.push({ onset: add(bar, within), chord, words })
      }
      if (perBar === 1 || index % perBar === perBar - 1 || index === section.bars.length - 1)
        bar = add(bar, barQuarters)
    })
    sectionEnds.push(bar)
  }
  const harmonies = events.flatMap(({ onset, chord }, index): Harmony[] =>
    chord ? [{ ...chord, onset, end: events[index + 1]?.onset ?? bar, from: 'symbol', roman: '', missing: [] }] : [],
  )
  const fifths =
    choices.fifths ??
    chart.fifths ??
    keyOf(
      harmonies.flatMap(({ notes, bass, onset }) =>
        [bass, ...notes].map((name, place) => ({
          pitch: (place === 0 ? BASS : CHORD) + Note.chroma(name)!,
          onset: toDecimal(onset),
          length: 1,
        })),
      ),
    )?.fifths ??
    0
  if (choices.fifths === undefined && chart.fifths === undefined)
    guesses.push({ about: 'key', kind: 'key-found', from: 'chords' })
  const bpm = choices.bpm ?? chart.tempoBpm
  if (bpm === undefined) guesses.push({ about: 'tempo', kind: 'tempo-taken', bpm: TEMPO_TAKEN })
  const empty = arrange(
    {
      title: chart.title || fallbackTitle,
      composer: chart.composer,
      meters: [{ at: ZERO, meter }],
      fifths,
      pickup: ZERO,
      tempos: [{ onset: ZERO, quarterBpm: bpm ?? TEMPO_TAKEN }],
      chords: events.flatMap(({ onset, chord }) => (chord ? [{ onset, ...chord }] : [])),
      rehearsals,
      sectionEnds,
      end: bar,
    },
    [],
  )
  const arrangement = handsOver(empty, harmonies, own)
  return { arrangement: { ...arrangement, lyrics: wordsOver(arrangement, events) }, guesses }
}

/** What each hand plays: what is said, what goes beside the other, or the plainest. */
const patternsOf = ({ left, right }: HandsPatterns = {}): Record<Hand, HandPattern> => ({
  left: left ?? besideOf(right) ?? handPatternNamed('held-root')!,
  right: right ?? besideOf(left) ?? handPatternNamed('block-held')!,
})

/**
 * Both hands' notes over the chords, the left hand's first, as the right lies above it; whoever answers hears the other
 * one first.
 */
function handsOver(empty: Arrangement, harmonies: readonly Harmony[], own: Record<Hand, HandPattern>): Arrangement {
  const whole = { from: ZERO, to: arrangementEnd(empty) }
  return (own.left.answers ? EACH_HAND : (['left', 'right'] as const)).reduce((arrangement, hand) => {
    const pattern = own[hand]
    try {
      checkMeter(pattern, arrangement.bars[0]!.meter)
    } catch (error) {
      if (error instanceof NoPattern) throw new UnusableInput('', error.message)
      throw error
    }
    return withHand(arrangement, hand, whole, playPattern(arrangement, { pattern, hand, harmonies }), harmonies)
  }, empty)
}

/** The meter of a chart that names none: 4/4 where the patterns have it, otherwise the first that they have. */
export function meterOf({ left, right }: HandsPatterns = {}): Meter {
  const pattern = left ?? right
  const meters = pattern ? metersOfHand(pattern) : []
  const [beats, beatType] = (meters.includes('4/4') ? '4/4' : (meters[0] ?? '4/4')).split('/').map(Number)
  return { beats: beats!, beatType: beatType! }
}

const besideOf = (pattern?: HandPattern): HandPattern | undefined =>
  pattern?.beside === undefined ? undefined : handPatternNamed(pattern.beside)

/** The words over chords, each on the highest note that is struck with its chord. */
function wordsOver({ notes }: Arrangement, events: readonly { onset: Quarters; words?: string }[]): Lyric[] {
  const topOf = new Map(
    notes.filter(note => note.hand === 'right' && !note.grace).map(note => [`${note.onset.n}/${note.onset.d}`, note]),
  )
  return events.flatMap(({ onset, words }): Lyric[] => {
    const top = words ? topOf.get(`${onset.n}/${onset.d}`) : undefined
    return top ? [{ noteId: top.id, onset, verse: '1', text: words!, hyphen: false }] : []
  })
}
