import { isCompound, tempoBeatQuarters, type Meter } from '../music/meter'

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

/** "1.4": seconds with a tenth. */
export const seconds = (ms: number): string => (ms / 1000).toFixed(1)

/** "a half step", "a whole step", "4 half steps", "an octave". */
export function stepsText(semitones: number): string {
  const far = Math.abs(semitones)
  return far === 1
    ? 'a half step'
    : far === 2
      ? 'a whole step'
      : far === 12
        ? 'an octave'
        : far === 24
          ? 'two octaves'
          : `${far} half steps`
}

const LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' })
/** "left", "left and right", "left, right and both". */
export const listText = (items: readonly string[]): string => LIST.format(items)

export const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`

/** "once", "twice", "3 times". */
export const timesText = (count: number): string => (count === 1 ? 'once' : count === 2 ? 'twice' : `${count} times`)

const NUMBERS = [
  'no',
  'one',
  'two',
  'three',
  'four',
  'five',
  'six',
  'seven',
  'eight',
  'nine',
  'ten',
  'eleven',
  'twelve',
]
/** Small whole numbers as words. */
export const numberWord = (count: number): string => NUMBERS[count] ?? String(count)

/**
 * A tempo in the beats a player counts, from quarter notes a minute: dotted ones in compound meters, otherwise quarter
 * notes.
 */
export const tempoFigure = (quarterBpm: number, meter?: Meter): string =>
  String(Math.round(quarterBpm / (meter ? tempoBeatQuarters(meter) : 1)))

/** What the figure counts where it is not quarter notes: "dotted quarters". */
export const dottedBeats = (meter?: Meter): string | undefined =>
  meter && isCompound(meter)
    ? `dotted ${meter.beatType === 8 ? 'quarters' : meter.beatType === 16 ? 'eighths' : 'notes'}`
    : undefined

/** "96 bpm", and in 6/8 "80 dotted quarters a minute". */
export function tempoText(quarterBpm: number, meter?: Meter): string {
  const beats = dottedBeats(meter)
  return `${tempoFigure(quarterBpm, meter)} ${beats ? `${beats} a minute` : 'bpm'}`
}
