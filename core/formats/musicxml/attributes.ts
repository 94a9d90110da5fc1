import type { Meter } from '../../music/meter'
import { UnusableInput } from '../unusable'
import type { Warnings } from './warnings'
import { child, children, textOf, type XmlElement } from './xml'

export interface ReadAttributes {
  divisions?: number
  fifths?: number
  meter?: Meter
  staves?: number
  transposeSemitones?: number
  /** Clef sign (G, F, C) by staff. */
  clefs: Map<number, string>
}

/** What an <attributes> element sets. Throws UnusableInput for divisions or a meter that make no time. */
export function readAttributes(element: XmlElement, place: string, warnings: Warnings, label: string): ReadAttributes {
  const read: ReadAttributes = { clefs: new Map() }
  if (child(element, 'divisions')) {
    const divisions = Number(textOf(element, 'divisions'))
    if (!(divisions > 0) || divisions > 1e6)
      throw new UnusableInput(place, `<divisions> should be a positive number and is "${textOf(element, 'divisions')}"`)
    read.divisions = divisions
  }
  const key = child(element, 'key')
  if (key) {
    const fifths = Number(textOf(key, 'fifths') || Number.NaN)
    if (Number.isInteger(fifths) && Math.abs(fifths) <= 7) read.fifths = fifths
    else warnings.note({ kind: 'key-off-circle' }, label)
  }
  const time = child(element, 'time')
  if (time) {
    if (child(time, 'senza-misura')) warnings.note({ kind: 'free-meter' }, label)
    else read.meter = readMeter(time, place)
  }
  if (child(element, 'staves'))
    read.staves = Math.max(1, Math.min(8, Math.round(Number(textOf(element, 'staves'))) || 1))
  for (const clef of children(element, 'clef'))
    read.clefs.set(Number(clef.attributes.number ?? 1), textOf(clef, 'sign'))
  const transpose = child(element, 'transpose')
  if (transpose) {
    read.transposeSemitones =
      Math.round(Number(textOf(transpose, 'chromatic') || 0) + 12 * Number(textOf(transpose, 'octave-change') || 0)) ||
      0
  }
  return read
}

function readMeter(time: XmlElement, place: string): Meter {
  const beatsText = children(time, 'beats').map(beats => beats.text.trim())
  const types = children(time, 'beat-type').map(type => Number(type.text.trim()))
  const groups = beatsText.flatMap(text => text.split('+')).map(text => Number(text.trim()))
  const beatType = Math.max(...types)
  const sane =
    types.length > 0 &&
    types.length === beatsText.length &&
    groups.every(beats => Number.isInteger(beats) && beats > 0 && beats <= 64) &&
    types.every(type => [1, 2, 4, 8, 16, 32, 64].includes(type))
  if (!sane)
    throw new UnusableInput(
      place,
      `a meter such as 4/4 was expected and "${beatsText.join('+')}/${types.join('+')}" was found`,
    )
  const scaled =
    groups.length === types.length ? groups.map((beats, index) => (beats * beatType) / types[index]!) : groups
  const beats = scaled.reduce((sum, one) => sum + one, 0)
  return scaled.length > 1 ? { beats, beatType, groups: scaled } : { beats, beatType }
}

export interface BarlineMarks {
  repeatStart?: boolean
  repeatEnd?: number
  endings?: number[]
  endingStops?: boolean
  sectionEnd?: boolean
}

/** Repeats, endings and section ends of a <barline>. */
export function readBarline(element: XmlElement, warnings: Warnings, label: string): BarlineMarks {
  const marks: BarlineMarks = {}
  const repeat = child(element, 'repeat')
  if (repeat?.attributes.direction === 'forward') marks.repeatStart = true
  if (repeat?.attributes.direction === 'backward') {
    const times = Number(repeat.attributes.times ?? 2)
    marks.repeatEnd = Number.isInteger(times) && times >= 2 && times <= 100 ? times : 2
  }
  const ending = child(element, 'ending')
  if (ending?.attributes.type === 'start') {
    const numbers = (ending.attributes.number ?? '')
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(Number)
    if (numbers.length > 0 && numbers.every(number => Number.isInteger(number) && number > 0 && number <= 100))
      marks.endings = numbers
    else warnings.note({ kind: 'ending', name: (ending.attributes.number ?? '').slice(0, 20) }, label)
  } else if (ending) marks.endingStops = true
  const style = textOf(element, 'bar-style')
  if ((style === 'light-light' || style === 'light-heavy') && element.attributes.location !== 'left')
    marks.sectionEnd = true
  return marks
}
