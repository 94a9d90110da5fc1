import { Note } from 'tonal'
import { handDifficulty, type HandDifficulty } from '../hands/difficulty'
import { arrange } from '../music/arrange'
import type { Hand } from '../music/arrangement'
import { spellSymbol } from '../music/chord-symbol'
import { barLength, type Meter } from '../music/meter'
import { expectedNotes, wholePassage } from '../music/passage'
import { multiply, quarters, ZERO } from '../music/quarters'
import type { Harmony } from '../music/song-harmony'
import { metersOfHand, type HandPattern } from './hand-pattern'
import { playPattern } from './play-pattern'
import { withHand } from './with-pattern'

/**
 * The chords that patterns are measured on, a bar each: a turn that songs are made of, with a seventh in it (common
 * practice).
 */
const MEASURED_ON = ['C', 'Am', 'F', 'G7', 'C', 'Am', 'Dm7', 'G7']
/** The tempo they are measured at where none is asked for, quarter notes a minute: an ordinary walking one. */
export const MEASURED_BPM = 100

export interface PatternMeasured {
  hand?: Hand
  meter?: Meter
  bpm?: number
  reach?: number
  chords?: readonly string[]
}

/**
 * How hard a pattern is at a tempo, quarter notes a minute, in a meter (its first where none is given): on chords that
 * are given, or on a common turn.
 */
export function patternDifficulty(
  pattern: HandPattern,
  {
    hand = pattern.hands[0] ?? 'left',
    meter = firstMeter(pattern),
    bpm = MEASURED_BPM,
    reach,
    chords = MEASURED_ON,
  }: PatternMeasured = {},
): HandDifficulty {
  const bar = barLength(meter)
  const harmonies = chords.map((symbol, index): Harmony => {
    const onset = multiply(bar, quarters(index))
    return {
      ...spellSymbol(symbol),
      onset,
      end: multiply(bar, quarters(index + 1)),
      from: 'symbol',
      roman: '',
      missing: [],
    }
  })
  const end = multiply(bar, quarters(chords.length))
  const empty = arrange(
    {
      title: '',
      meters: [{ at: ZERO, meter }],
      fifths: 0,
      pickup: ZERO,
      tempos: [{ onset: ZERO, quarterBpm: bpm }],
      end,
    },
    [],
  )
  const played = playPattern(empty, { pattern: { ...pattern, answers: undefined }, hand, harmonies, reach })
  const arrangement = withHand(empty, hand, { from: ZERO, to: end }, played, harmonies)
  const notes = expectedNotes(arrangement, wholePassage(arrangement, hand)).map(
    ({ id, pitch, onsetMs, durationMs }) => ({ id, pitch, onsetMs, endMs: onsetMs + durationMs }),
  )
  return handDifficulty(notes, { hand, reach, tonic: Note.chroma('C')! })
}

const firstMeter = (pattern: HandPattern): Meter => {
  const meters = metersOfHand(pattern)
  const [beats, beatType] = (meters.includes('4/4') ? '4/4' : (meters[0] ?? '4/4')).split('/').map(Number)
  return { beats: beats!, beatType: beatType! }
}

/**
 * The next step up from a pattern, by name: of those that were measured the one that is least harder; undefined above
 * the hardest, and where the pattern itself was not measured.
 */
export function nextStepUp<Measured extends { readonly pattern: HandPattern; readonly level?: number }>(
  name: string,
  measured: readonly Measured[],
): Measured | undefined {
  const from = measured.find(one => one.pattern.name === name)?.level
  if (from === undefined) return undefined
  return measured.filter(one => one.level !== undefined && one.level > from).sort((a, b) => a.level! - b.level!)[0]
}
