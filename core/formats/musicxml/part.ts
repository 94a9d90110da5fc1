import type { DynamicMark, PedalMark, SwingMark, TempoMark, TempoWord } from '../../music/arrangement'
import type { ChordSpelling } from '../../music/chord-symbol'
import type { Meter } from '../../music/meter'
import type { MidiPitch } from '../../music/pitch'
import { isOnKeyboard, midiOf, spelledName } from '../../music/pitch'
import {
  add,
  compare,
  equal,
  later,
  multiply,
  quarters,
  subtract,
  toDecimal,
  ZERO,
  type Quarters,
} from '../../music/quarters'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'
import { readAttributes, readBarline, type BarlineMarks } from './attributes'
import { readDirection, withOffset, type DirectionMarks, type JumpMark } from './directions'
import { readHarmony } from './harmony'
import type { Warnings } from './warnings'
import { child, children, textOf, type XmlElement } from './xml'

/** A notehead as it stands in a file: its onset counts from its bar's beginning. */
export interface WrittenNote {
  element: XmlElement
  barIndex: number
  onset: Quarters
  duration: Quarters
  pitch: MidiPitch
  spelled: string
  voice: string
  staff: number
  tieStart: boolean
  tieStop: boolean
  finger?: number
  grace?: { slash: boolean; before: number }
  articulations: string[]
  ornaments: string[]
  slurs: { type: 'start' | 'stop'; number: string }[]
  lyrics: { verse: string; text: string; hyphen: boolean }[]
}

/** A mark with the element that makes it; its onset counts from its bar's beginning. */
export type Placed<T> = Omit<T, 'onset'> & { barIndex: number; onset: Quarters; element: XmlElement }

export interface WrittenBar {
  label: string
  implicit: boolean
  /** How far notes, rests and gaps reach. */
  content: Quarters
  /** How far what is printed reaches: without rests that only fill up. */
  shown: Quarters
  /** Nothing stands in it but rests. */
  isSilent: boolean
  /** Divisions to a quarter note at its first note. */
  divisions: number
  /** Everything in it but notes and moves of time, and when it comes, from the bar's beginning. */
  between: { element: XmlElement; onset: Quarters }[]
  meter?: Meter
  fifths?: number
  barline: BarlineMarks
  jumps: JumpMark
}

/** One `<part>` of a score: its bars and all that stands in them, in file order. */
export interface WrittenPart {
  id: string
  name: string
  instrument: string
  measures: XmlElement[]
  staves: number
  clefs: Map<number, string>
  bars: WrittenBar[]
  notes: WrittenNote[]
  chords: Placed<ChordSpelling & { onset: Quarters }>[]
  tempos: Placed<TempoMark>[]
  pedals: Placed<PedalMark>[]
  dynamics: (Placed<DynamicMark> & { staff: number })[]
  rehearsals: Placed<{ onset: Quarters; name: string }>[]
  swings: Placed<SwingMark>[]
  tempoWords: Placed<TempoWord>[]
}

const TYPE_QUARTERS: Record<string, Quarters> = {
  maxima: quarters(32),
  long: quarters(16),
  breve: quarters(8),
  whole: quarters(4),
  half: quarters(2),
  quarter: quarters(1),
  eighth: quarters(1, 2),
  '16th': quarters(1, 4),
  '32nd': quarters(1, 8),
  '64th': quarters(1, 16),
  '128th': quarters(1, 32),
  '256th': quarters(1, 64),
  '512th': quarters(1, 128),
  '1024th': quarters(1, 256),
}
/** Ornaments of further strokes on and around the written note. Their strokes belong to it. */
const STRUCK_ORNAMENTS = new Set([
  'trill-mark',
  'turn',
  'delayed-turn',
  'inverted-turn',
  'delayed-inverted-turn',
  'vertical-turn',
  'mordent',
  'inverted-mordent',
  'shake',
  'haydn',
  'tremolo',
])
/** Signs that only go with an ornament. */
const ORNAMENT_SIGNS = new Set(['accidental-mark', 'wavy-line'])
/** Notes, and what moves the cursor. */
export const MOVES: ReadonlySet<string> = new Set(['note', 'backup', 'forward'])
const ENGRAVED_ONLY = new Set(['print', 'listening', 'link', 'bookmark', 'grouping'])

/** The notes of a part by bar. */
export function notesByBar({ bars, notes }: WrittenPart): WrittenNote[][] {
  const found = bars.map((): WrittenNote[] => [])
  for (const note of notes) found[note.barIndex]!.push(note)
  return found
}

/** Walks one part's measures with a time cursor, as the MusicXML format defines it. Throws UnusableInput. */
export function readPart(
  element: XmlElement,
  { name, instrument }: { name: string; instrument: string },
  warnings: Warnings,
): WrittenPart {
  const part: WrittenPart = {
    id: element.attributes.id ?? '',
    name,
    instrument,
    measures: children(element, 'measure'),
    staves: 1,
    clefs: new Map(),
    bars: [],
    notes: [],
    chords: [],
    tempos: [],
    pedals: [],
    dynamics: [],
    rehearsals: [],
    swings: [],
    tempoWords: [],
  }
  let divisions = 1
  let transposeSemitones = 0
  const graces = new Map<string, WrittenNote[]>()

  part.measures.forEach((measure, barIndex) => {
    if (barIndex >= LIMITS.bars) throw new UnusableInput(`part ${part.id}`, `more than ${LIMITS.bars} bars`)
    const label = (measure.attributes.number ?? String(barIndex + 1)).slice(0, 20)
    const bar: WrittenBar = {
      label,
      implicit: measure.attributes.implicit === 'yes',
      content: ZERO,
      shown: ZERO,
      isSilent: true,
      divisions,
      between: [],
      barline: {},
      jumps: {},
    }
    part.bars.push(bar)
    const placeOf = (at: XmlElement) => `part ${part.id}, bar ${label} (line ${at.line})`
    const lengthOf = (at: XmlElement, allowZero = false) => {
      const text = textOf(at, 'duration')
      const value = Number(text)
      if (text === '' || !Number.isFinite(value) || value < 0 || value > 1e6 || (value === 0 && !allowZero)) {
        throw new UnusableInput(placeOf(at), `<duration> should be a positive number and is "${text}"`)
      }
      return exactQuarters(value, divisions, placeOf(at))
    }
    let cursor = ZERO
    let chordOnset = ZERO
    const clock = barClock(() => divisions)
    const place = (element: XmlElement, marks: DirectionMarks) => {
      Object.assign(bar.jumps, marks.jumps)
      part.tempos.push(...marks.tempos.map(one => ({ ...one, barIndex, element })))
      part.pedals.push(...marks.pedals.map(one => ({ ...one, barIndex, element })))
      part.dynamics.push(...marks.dynamics.map(one => ({ ...one, barIndex, element })))
      part.rehearsals.push(...marks.rehearsals.map(one => ({ ...one, barIndex, element })))
      part.swings.push(...marks.swings.map(one => ({ ...one, barIndex, element })))
      part.tempoWords.push(...marks.tempoWords.map(one => ({ ...one, barIndex, element })))
    }

    for (const item of measure.children) {
      if (!MOVES.has(item.name)) bar.between.push({ element: item, onset: cursor })
      if (item.name === 'attributes') {
        const read = readAttributes(item, placeOf(item), warnings, label)
        divisions = read.divisions ?? divisions
        if (bar.isSilent) bar.divisions = divisions
        transposeSemitones = read.transposeSemitones ?? transposeSemitones
        part.staves = Math.max(part.staves, read.staves ?? 1)
        for (const [staff, sign] of read.clefs) if (!part.clefs.has(staff)) part.clefs.set(staff, sign)
        bar.fifths ??= read.fifths
        if (read.meter && !equal(cursor, ZERO)) warnings.note({ kind: 'meter-in-bar' }, label)
        else bar.meter = read.meter ?? bar.meter
      } else if (item.name === 'note') {
        const isGrace = child(item, 'grace') !== undefined
        const isChord = child(item, 'chord') !== undefined
        const rounded = isGrace ? ZERO : lengthOf(item, child(item, 'cue') !== undefined)
        const duration = isGrace ? ZERO : lengthMeant(item, rounded, divisions, label, warnings)
        const onset = isChord ? chordOnset : cursor
        if (!isChord) {
          chordOnset = cursor
          cursor = clock.forward(rounded, duration)
        }
        if (!child(item, 'rest')) bar.isSilent = false
        const note = readNote(item, {
          barIndex,
          onset,
          duration,
          transposeSemitones,
          label,
          place: placeOf(item),
          warnings,
        })
        if (note) {
          if (part.notes.length >= LIMITS.notes)
            throw new UnusableInput(placeOf(item), `more than ${LIMITS.notes} notes`)
          numberGraces(graces, note, isChord)
          part.notes.push(note)
          part.staves = Math.max(part.staves, note.staff)
        }
      } else if (item.name === 'backup') {
        const { at, isBeforeBar } = clock.back(lengthOf(item, true))
        if (isBeforeBar) warnings.note({ kind: 'backup' }, label)
        cursor = at
      } else if (item.name === 'forward') {
        const gap = lengthOf(item, true)
        cursor = clock.forward(gap)
      } else if (item.name === 'direction')
        place(item, readDirection(item, cursor, divisions, placeOf(item), warnings, label))
      else if (item.name === 'sound')
        place(item, readDirection({ ...item, children: [item] }, cursor, divisions, placeOf(item), warnings, label))
      else if (item.name === 'harmony') {
        const chord = readHarmony(item, warnings, label)
        if (chord) part.chords.push({ ...chord, barIndex, onset: withOffset(item, cursor, divisions), element: item })
      } else if (item.name === 'barline') bar.barline = { ...bar.barline, ...readBarline(item, warnings, label) }
      else if (!ENGRAVED_ONLY.has(item.name)) warnings.note({ kind: 'element', name: item.name }, label)
      bar.content = later(bar.content, cursor)
      if (item.name === 'note' && item.attributes['print-object'] !== 'no') bar.shown = later(bar.shown, cursor)
    }
  })
  return part
}

interface NoteContext {
  barIndex: number
  onset: Quarters
  duration: Quarters
  transposeSemitones: number
  label: string
  place: string
  warnings: Warnings
}

function readNote(item: XmlElement, context: NoteContext): WrittenNote | undefined {
  const { warnings, label } = context
  if (child(item, 'rest')) return undefined
  if (child(item, 'cue')) {
    warnings.note({ kind: 'cue-notes' }, label)
    return undefined
  }
  const pitchElement = child(item, 'pitch')
  if (!pitchElement) {
    warnings.note({ kind: 'unpitched' }, label)
    return undefined
  }
  const step = textOf(pitchElement, 'step')
  const octave = Number(textOf(pitchElement, 'octave') || Number.NaN)
  const alterWritten = Number(textOf(pitchElement, 'alter') || 0)
  if (!/^[A-G]$/.test(step))
    throw new UnusableInput(context.place, `<step> should be a letter from A to G and is "${step}"`)
  if (!Number.isInteger(octave) || octave < 0 || octave > 9)
    throw new UnusableInput(
      context.place,
      `<octave> should be a number from 0 to 9 and is "${textOf(pitchElement, 'octave')}"`,
    )
  if (!Number.isFinite(alterWritten) || Math.abs(alterWritten) > 3)
    throw new UnusableInput(
      context.place,
      `<alter> should be a number from -3 to 3 and is "${textOf(pitchElement, 'alter')}"`,
    )
  const alter = Math.round(alterWritten)
  if (alter !== alterWritten) warnings.note({ kind: 'quarter-tones' }, label)
  const pitch = midiOf(step, alter, octave) + context.transposeSemitones
  if (pitch < 0 || pitch > 127)
    throw new UnusableInput(context.place, `the note ${spelledName(step, alter, octave)} is outside MIDI's range`)
  if (!isOnKeyboard(pitch)) warnings.note({ kind: 'beyond-keys' }, label)

  const grace = child(item, 'grace')
  const ties = children(item, 'tie').map(tie => tie.attributes.type)
  return {
    element: item,
    barIndex: context.barIndex,
    onset: context.onset,
    duration: context.duration,
    pitch,
    spelled: spelledName(step, alter, octave),
    voice: textOf(item, 'voice') || '1',
    staff: Math.max(1, Math.min(8, Math.round(Number(textOf(item, 'staff') || 1)) || 1)),
    tieStart: ties.includes('start'),
    tieStop: ties.includes('stop'),
    ...readNotations(item, warnings, label),
    ...(grace ? { grace: { slash: grace.attributes.slash === 'yes', before: 1 } } : {}),
    lyrics: children(item, 'lyric')
      .map(lyric => ({
        verse: lyric.attributes.number ?? '1',
        text: children(lyric, 'text')
          .map(one => one.text)
          .join(' ')
          .trim()
          .slice(0, LIMITS.textLength),
        hyphen: ['begin', 'middle'].includes(textOf(lyric, 'syllabic')),
      }))
      .filter(lyric => lyric.text !== ''),
  }
}

function readNotations(
  item: XmlElement,
  warnings: Warnings,
  label: string,
): Pick<WrittenNote, 'finger' | 'articulations' | 'ornaments' | 'slurs'> {
  const articulations: string[] = []
  const ornaments: string[] = []
  const slurs: WrittenNote['slurs'] = []
  let finger: number | undefined
  for (const notations of children(item, 'notations')) {
    for (const mark of notations.children) {
      if (mark.name === 'articulations') articulations.push(...mark.children.map(one => one.name))
      else if (mark.name === 'fermata' || mark.name === 'arpeggiate') articulations.push(mark.name)
      else if (mark.name === 'slur') {
        const { type, number = '1' } = mark.attributes
        if (type === 'start' || type === 'stop') slurs.push({ type, number })
      } else if (mark.name === 'technical') {
        const digit = Number(textOf(mark, 'fingering'))
        if (digit >= 1 && digit <= 5) finger ??= digit
        else if (child(mark, 'fingering')) warnings.note({ kind: 'finger', name: textOf(mark, 'fingering') }, label)
      } else if (mark.name === 'ornaments') {
        for (const one of mark.children) {
          if (STRUCK_ORNAMENTS.has(one.name)) ornaments.push(one.name)
          else if (!ORNAMENT_SIGNS.has(one.name)) warnings.note({ kind: 'ornament', name: one.name }, label)
        }
      }
    }
  }
  return { articulations, ornaments, slurs, ...(finger === undefined ? {} : { finger }) }
}

/** Grace notes of a voice wait for their main note, then know how far away it is. */
function numberGraces(waiting: Map<string, WrittenNote[]>, note: WrittenNote, isChord: boolean) {
  const voice = `${note.staff}:${note.voice}`
  const graces = waiting.get(voice) ?? []
  if (!note.grace) {
    waiting.delete(voice)
    return
  }
  if (isChord && graces.length > 0) {
    note.grace.before = graces.at(-1)!.grace!.before
    graces.push(note)
    return
  }
  for (const earlierGrace of graces) earlierGrace.grace!.before++
  waiting.set(voice, [...graces, note])
}

/**
 * Two clocks of a bar: the file's, which counts in whole divisions and so rounds a third, and the one that is meant.
 * What comes back to a moment of the first is at that moment of the second; in a bar with rounded lengths also what
 * comes back to one division beside it.
 */
function barClock(divisions: () => number) {
  let rounded = ZERO
  let at = ZERO
  let isRounded = false
  const inDivisions = () => Math.round(toDecimal(rounded) * divisions())
  const meant = new Map<number, Quarters>([[0, ZERO]])
  return {
    /** On by a length as the file has it, and as it is meant. */
    forward(by: Quarters, isMeant = by): Quarters {
      isRounded ||= !equal(by, isMeant)
      rounded = add(rounded, by)
      at = add(at, isMeant)
      meant.set(inDivisions(), at)
      return at
    },
    /** Back by a length as the file has it; at most to the bar's beginning. */
    back(by: Quarters): { at: Quarters; isBeforeBar: boolean } {
      const isBeforeBar = compare(by, rounded) > 0
      rounded = isBeforeBar ? ZERO : subtract(rounded, by)
      const here = inDivisions()
      const beside = isRounded ? (meant.get(here - 1) ?? meant.get(here + 1)) : undefined
      at = meant.get(here) ?? beside ?? rounded
      return { at, isBeforeBar }
    },
  }
}

/**
 * How far a duration may lie from the drawn value and still be its rounding to whole divisions, in divisions and as a
 * share of it.
 */
const ROUNDING = { divisions: 1, share: 0.05 }

/**
 * The length of a note: what is drawn, where <duration> is that but for rounding. Where they disagree, the page and the
 * clock would too: that is said.
 */
function lengthMeant(
  item: XmlElement,
  duration: Quarters,
  divisions: number,
  label: string,
  warnings: Warnings,
): Quarters {
  const drawn = TYPE_QUARTERS[textOf(item, 'type')]
  if (!drawn || child(item, 'cue')) return duration
  const dots = children(item, 'dot').length
  let value = multiply(drawn, quarters(2 ** (dots + 1) - 1, 2 ** dots))
  const modification = child(item, 'time-modification')
  const actual = Number(textOf(modification, 'actual-notes'))
  const normal = Number(textOf(modification, 'normal-notes'))
  if (modification && Number.isInteger(actual) && Number.isInteger(normal) && actual > 0 && normal > 0)
    value = multiply(value, quarters(normal, actual))
  if (equal(value, duration)) return duration
  const off = Math.abs(toDecimal(value) - toDecimal(duration))
  if (off * divisions < ROUNDING.divisions && off <= ROUNDING.share * toDecimal(value)) return value
  if (!child(item, 'rest')) warnings.note({ kind: 'drawn-value' }, label)
  return duration
}

/** `value` divisions as quarter notes, exact for whole and decimal numbers alike. */
function exactQuarters(value: number, divisions: number, place: string): Quarters {
  const scale = Number.isInteger(value) && Number.isInteger(divisions) ? 1 : 10_000
  try {
    return quarters(Math.round(value * scale), Math.round(divisions * scale))
  } catch {
    throw new UnusableInput(place, 'this length is too fine or too long')
  }
}
