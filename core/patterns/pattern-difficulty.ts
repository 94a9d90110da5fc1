import { Note } from 'tonal'
import { handDifficulty, type HandDifficulty } from '../hands/difficulty'
import { arrange } from '../music/arrange'
import type { Hand } from '../music/arrangement'
import { spellSymbol } from '../music/chord-symbol'
import { barLength, type Meter } from '../music/meter'
import { expectedNotes, wholePassage } from '../music/passage'
import { multiply, quarters, ZERO } from '../music/quarters'
import type { Harmony } from '../music/song-harmony'
import { canPlayIn, metersOfHand, type HandPattern } from './hand-pattern'
import { HAND_PATTERNS } from './hand-patterns'
import { playPattern } from './play-pattern'
import { withHand } from './with-pattern'

/** The chords that patterns are measured on, a bar each: a turn that songs are made of, with a seventh in it (common practice). */
const MEASURED_ON = ['C', 'Am', 'F', 'G7', 'C', 'Am', 'Dm7', 'G7']
/** The tempo they are measured at where none is asked for, quarter notes a minute: an ordinary walking one. */
export const MEASURED_BPM = 100

export interface PatternMeasured { hand?: Hand, meter?: Meter, bpm?: number, reach?: number, chords?: readonly string[] }

/** How hard a pattern is at a tempo, quarter notes a minute, in a meter (its first where none is given): on chords that are given, or on a common turn. */
export function patternDifficulty(pattern: HandPattern, { hand = pattern.hands[0] ?? 'left', meter = firstMeter(pattern), bpm = MEASURED_BPM, reach, chords = MEASURED_ON }: PatternMeasured = {}): HandDifficulty {
  const bar = barLength(meter)
  const harmonies = chords.map((symbol, index): Harmony => {
    const onset = multiply(bar, quarters(index))
    return { ...spellSymbol(symbol), onset, end: multiply(bar, quarters(index + 1)), from: 'symbol', roman: '', missing: [] }
  })
  const end = multiply(bar, quarters(chords.length))
  const empty = arrange({ title: '', meters: [{ at: ZERO, meter }], fifths: 0, pickup: ZERO, tempos: [{ onset: ZERO, quarterBpm: bpm }], end }, [])
  const played = playPattern(empty, { pattern: { ...pattern, answers: undefined }, hand, harmonies, reach })
  const arrangement = withHand(empty, hand, { from: ZERO, to: end }, played, harmonies)
  const notes = expectedNotes(arrangement, wholePassage(arrangement, hand)).map(({ id, pitch, onsetMs, durationMs }) => ({ id, pitch, onsetMs, endMs: onsetMs + durationMs }))
  return handDifficulty(notes, { hand, reach, tonic: Note.chroma('C')! })
}

const firstMeter = (pattern: HandPattern): Meter => {
  const meters = metersOfHand(pattern)
  const [beats, beatType] = (meters.includes('4/4') ? '4/4' : meters[0] ?? '4/4').split('/').map(Number)
  return { beats: beats!, beatType: beatType! }
}

/**
 * The next step up from a pattern: of those for a hand and meter the one that is least harder at the tempo; undefined above the hardest. `own`: patterns beside those that ship.
 */
export function nextStepUp(pattern: HandPattern, measured: PatternMeasured & { meter: Meter }, own: readonly HandPattern[] = []): HandPattern | undefined {
  const hand = measured.hand ?? 'left'
  const from = patternDifficulty(pattern, measured).level
  return [...HAND_PATTERNS, ...own].filter(other => other.name !== pattern.name && other.hands.includes(hand) && canPlayIn(other, measured.meter))
    .map(other => ({ other, level: patternDifficulty(other, measured).level })).filter(({ level }) => level > from)
    .sort((a, b) => a.level - b.level)[0]?.other
}
