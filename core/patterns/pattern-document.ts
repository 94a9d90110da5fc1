import type { Hand } from '../music/arrangement'
import { barOf, type HandCycle, type HandPattern, type HandRows } from './hand-pattern'

/** A pattern as a file of its own (docs/formats.md). */
export interface PatternDocument extends HandPattern { readonly format: 'half-step/pattern', readonly version: 1 }

/** What a pattern may hold at most: far above what a hand can play. */
export const PATTERN_LIMITS = { name: 60, cycles: 12, beats: 12, bars: 4, rows: 24, rowCharacters: 120 } as const

export const patternDocument = (pattern: HandPattern): PatternDocument => ({ format: 'half-step/pattern', version: 1, ...pattern })

/** A pattern from plain data, as it comes in a file or a request; further fields are left behind. Throws a RangeError that says what of it was expected otherwise. */
export function patternFrom(value: unknown): HandPattern {
  const { format, version, name, hands, cycles, isOneRhythm, answers } = record(value, 'a pattern')
  if (format !== undefined && (format !== 'half-step/pattern' || version !== 1)) throw new RangeError('format "half-step/pattern", version 1 was expected')
  if (typeof name !== 'string' || name.trim() === '' || name.length > PATTERN_LIMITS.name) throw new RangeError(`a name of at most ${PATTERN_LIMITS.name} characters was expected`)
  const own = list(hands ?? ['left', 'right'], 'hands', 2).map((hand): Hand => {
    if (hand !== 'left' && hand !== 'right') throw new RangeError('hands: "left" or "right" was expected')
    return hand
  })
  const pattern: HandPattern = {
    name: name.trim(), hands: own, cycles: list(cycles, 'cycles', PATTERN_LIMITS.cycles).map((cycle, index) => cycleFrom(cycle, `cycle ${index + 1}`)),
    ...(isOneRhythm === true ? { isOneRhythm } : {}), ...(answers === true ? { answers } : {}),
  }
  if (pattern.cycles.every(cycle => cycle.bars.every(rows => barOf(cycle, rows).notes.length === 0))) throw new RangeError('a pattern in which something is played was expected')
  return pattern
}

function cycleFrom(value: unknown, where: string): HandCycle {
  const { beats, division, bars, isCompound } = record(value, where)
  if (!Number.isInteger(beats) || (beats as number) < 1 || (beats as number) > PATTERN_LIMITS.beats) throw new RangeError(`${where}: beats from 1 to ${PATTERN_LIMITS.beats} were expected`)
  if (![1, 2, 3, 4].includes(division as number)) throw new RangeError(`${where}: a division of 1, 2, 3 or 4 was expected`)
  const cycle: HandCycle = {
    beats: beats as number, division: division as HandCycle['division'],
    bars: list(bars, `${where}, bars`, PATTERN_LIMITS.bars).map((rows, index) => rowsFrom(rows, `${where}, bar ${index + 1}`)), ...(isCompound === true ? { isCompound } : {}),
  }
  for (const rows of cycle.bars) barOf(cycle, rows)
  return cycle
}

function rowsFrom(value: unknown, where: string): HandRows {
  const rows = Object.entries(record(value, where))
  if (rows.length > PATTERN_LIMITS.rows) throw new RangeError(`${where}: at most ${PATTERN_LIMITS.rows} rows were expected`)
  return Object.fromEntries(rows.map(([tone, signs]) => {
    if (typeof signs !== 'string' || signs.length > PATTERN_LIMITS.rowCharacters) throw new RangeError(`${where}: rows of at most ${PATTERN_LIMITS.rowCharacters} signs were expected`)
    return [tone, signs]
  }))
}

function record(value: unknown, where: string): Record<string, unknown> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new RangeError(`${where}: an object was expected`)
  return value as Record<string, unknown>
}

function list(value: unknown, where: string, most: number): unknown[] {
  if (!Array.isArray(value) || value.length === 0 || value.length > most) throw new RangeError(`${where}: a list of 1 to ${most} was expected`)
  return value
}
