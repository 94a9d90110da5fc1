import type { Arrangement } from '../../music/arrangement'
import type { ExpectedNote } from '../../music/passage'
import { displayName, spellInKey } from '../../music/pitch'
import { barText, beatText } from '../../music/place-words'

/** `time`: which time it comes round, where repeats are unfolded. */
type Placed = Pick<ExpectedNote, 'bar' | 'beat' | 'hand'> & { time?: number }

/** A place for a finding's fields. */
export const placeOf = ({ hand, bar, beat }: Placed) => ({ hand, bar, beat: Number(beat.toFixed(4)) })

/** "Bar 3, the & of beat 2, the second time, left hand", as the player counts. */
export function placeText({ bar, beat, hand, time = 1 }: Placed, parts: { beat?: boolean, hand?: boolean } = {}): string {
  return [barText(bar), ...(parts.beat === false ? [] : [beatText(beat)]), ...(time > 1 ? [`the ${TIMES[time] ?? `${time}th`} time`] : []), ...(parts.hand === false ? [] : [`${hand} hand`])].join(', ')
}

const TIMES: Record<number, string> = { 2: 'second', 3: 'third' }

/** "bars 5 and 7", "bars 5 to 8", "bar 5": what is named after "in". */
export function barsText(bars: readonly number[]): string {
  const all = [...new Set(bars)].sort((a, b) => a - b)
  const name = (bar: number) => bar === 0 ? 'the pickup' : `bar ${bar}`
  if (all.length === 1) return name(all[0]!)
  const inARow = all.at(-1)! - all[0]! === all.length - 1 && all[0]! > 0
  if (inARow && all.length > 2) return `bars ${all[0]} to ${all.at(-1)}`
  if (all.length === 2 && all[0]! > 0) return `bars ${all[0]} and ${all[1]}`
  return `${all.length} bars, first ${name(all[0]!)}`
}

/** The name of a key as it would be written in the key of that bar. */
export const keyName = (arrangement: Arrangement, pitch: number, barIndex: number, octave = false): string =>
  displayName(spellInKey(pitch, arrangement.bars[barIndex]?.fifths ?? 0), octave)

/** A length of time as a person would say it. */
export function inWords(ms: number): string {
  if (ms < 200) return 'a moment'
  if (ms < 290) return 'about a quarter of a second'
  if (ms < 420) return 'about a third of a second'
  if (ms < 620) return 'about half a second'
  if (ms < 900) return 'about three quarters of a second'
  const seconds = (ms / 1000).toFixed(1).replace(/\.0$/, '')
  return seconds === '1' ? 'about a second' : `about ${seconds} seconds`
}

/** "a half step", "a whole step", "4 half steps", "an octave". */
export function stepsText(semitones: number): string {
  const far = Math.abs(semitones)
  return far === 1 ? 'a half step' : far === 2 ? 'a whole step' : far === 12 ? 'an octave' : `${far} half steps`
}

export const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`
