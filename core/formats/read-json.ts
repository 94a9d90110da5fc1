import Fraction from 'fraction.js'
import Joi from 'joi'
import type { Arrangement, Bar, Hand, Note } from '../music/arrangement'
import { LIMITS } from '../music/limits'
import { barLength, type Meter } from '../music/meter'
import { playingOrder } from '../music/playing-order'
import { add, compare, quarters, subtract, ZERO, type Quarters } from '../music/quarters'
import { checkedArrangement } from './arrangement-schema'
import { UnusableInput } from './unusable'

const FORMAT = 'half-step/arrangement'
/**
 * A decimal of the document stands for the simplest fraction so near to it, quarter notes: it was rounded to six
 * places.
 */
const ROUNDED = 2e-6
const MAX_QUARTERS = 1e6

/** A moment or length that the document gives as a decimal number of quarter notes, exactly. */
function exact(decimal: number): Quarters {
  const { n, d, s } = new Fraction(decimal).simplify(ROUNDED)
  return quarters(Number(n) * Number(s), Number(d))
}

const decimal = Joi.number().min(0).max(MAX_QUARTERS).required()
const list = (fields: Joi.PartialSchemaMap, most: number = LIMITS.marks) =>
  Joi.array()
    .items(Joi.object({ onsetQuarter: decimal, ...fields }).unknown())
    .max(most)
    .default([])
const noteFields = {
  durationQuarter: decimal,
  pitch: Joi.number().integer().required(),
  spelled: Joi.string().required(),
  id: Joi.string().required(),
}
const documentSchema = Joi.object({
  format: Joi.string().valid(FORMAT).required(),
  version: Joi.number().valid(1).required(),
  title: Joi.string().allow('').default(''),
  composer: Joi.string().allow('').default(''),
  bars: Joi.array()
    .items(
      Joi.object({
        number: Joi.number().integer().required(),
        startQuarter: decimal,
        lengthQuarter: decimal.greater(0),
      }).unknown(),
    )
    .min(1)
    .max(LIMITS.bars)
    .required(),
  meters: list({ beats: Joi.number().integer().min(1).required(), beatType: Joi.number().integer().min(1).required() })
    .min(1)
    .required(),
  keys: list({ fifths: Joi.number().integer().required() }),
  notes: list({ ...noteFields, hand: Joi.string().valid('right', 'left').required() }, LIMITS.notes).required(),
  others: Joi.array()
    .items(Joi.object({ name: Joi.string().allow('').required(), notes: list(noteFields, LIMITS.notes) }).unknown())
    .max(LIMITS.tracks)
    .default([]),
  chords: list({}),
  pedals: list({}),
  dynamics: list({}),
  tempos: list({}),
  swings: list({}),
  tempoWords: list({}),
  rehearsals: list({}),
  lyrics: list({}, LIMITS.notes),
}).unknown()

/** A row of a list, at its moment; its bar and beat follow from that. */
interface Row {
  onsetQuarter: number
  bar?: unknown
  beat?: unknown
}
interface NoteRow extends Row {
  id: string
  hand?: Hand
  durationQuarter: number
  pitch: number
  spelled: string
  voice?: string
  finger?: number
  grace?: true
  tiedIds?: string[]
  articulations?: string[]
  ornaments?: string[]
}

/** What only passes through here: `checkedArrangement` looks at it. */
const CARRIED = [
  'chords',
  'lyrics',
  'pedals',
  'dynamics',
  'tempos',
  'swings',
  'tempoWords',
  'rehearsals',
] as const satisfies readonly (keyof Arrangement)[]
interface SongDocument extends Record<(typeof CARRIED)[number], Row[]> {
  title: string
  composer: string
  bars: ({ number: number; startQuarter: number; lengthQuarter: number } & Pick<
    Bar,
    'repeatStart' | 'repeatEnd' | 'endings'
  >)[]
  meters: (Row & Meter)[]
  keys: (Row & { fifths: number })[]
  notes: NoteRow[]
  others: { name: string; percussion?: true; notes: NoteRow[] }[]
}

/**
 * A song in the program's own JSON: as `convert` and `inspect` write it (docs/formats.md, half-step/arrangement), or
 * exact, as in archives. Throws UnusableInput that names the place.
 */
export function readJsonSong(text: string): Arrangement {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new UnusableInput('', 'it begins as JSON does and is not valid JSON')
  }
  if ((value as { format?: unknown } | null)?.format !== FORMAT)
    throw new UnusableInput(
      'byte 0',
      `a song in the format ${FORMAT}, a MusicXML score, a MIDI file, or a chord chart was expected`,
    )
  if ('order' in (value as object)) return checkedArrangement(value)
  const { error, value: document } = documentSchema.validate(value, {
    convert: false,
    errors: { wrap: { label: false } },
  })
  if (error)
    throw new UnusableInput(
      error.details[0]?.path.join('.') ?? '',
      `${error.message}; a song in the format ${FORMAT} was expected`,
    )
  return checkedArrangement(fromDocument(document as SongDocument))
}

/** The arrangement of a document; its parts are not looked at yet. */
function fromDocument(document: SongDocument): unknown {
  const bars = barsOf(document)
  const sited = (rows: readonly Row[]) =>
    rows.map(({ onsetQuarter, bar: _bar, beat: _beat, ...row }) => ({ onset: exact(onsetQuarter), ...row }))
  return {
    format: FORMAT,
    version: 1,
    title: document.title,
    composer: document.composer,
    bars,
    order: playingOrder(bars),
    notes: notesOf(document.notes, bars),
    others: document.others.map(({ name, percussion, notes }) => ({
      name,
      ...(percussion ? { percussion } : {}),
      notes: notesOf(notes, bars),
    })),
    ...Object.fromEntries(CARRIED.map(name => [name, sited(document[name])])),
    warnings: [],
  }
}

function barsOf({ bars, meters, keys }: SongDocument): Bar[] {
  const made: Bar[] = []
  for (const [index, { number, startQuarter, lengthQuarter, repeatStart, repeatEnd, endings }] of bars.entries()) {
    const inForce = <One extends Row>(rows: readonly One[]) =>
      rows.findLast(row => row.onsetQuarter <= startQuarter + ROUNDED) ?? rows[0]
    const { beats, beatType } = inForce(meters)!
    const [meter, length, before] = [{ beats, beatType }, exact(lengthQuarter), made.at(-1)]
    const missing = subtract(barLength(meter), length)
    // A pickup comes at the end of its bar; the second half of a split bar behind the first.
    const offset =
      before?.number === number
        ? add(before.offset, before.length)
        : index === 0 && compare(missing, ZERO) > 0
          ? missing
          : ZERO
    made.push({
      index,
      number,
      start: before ? add(before.start, before.length) : ZERO,
      length,
      offset,
      meter,
      fifths: inForce(keys)?.fifths ?? 0,
      ...(repeatStart ? { repeatStart } : {}),
      ...(repeatEnd ? { repeatEnd } : {}),
      ...(endings ? { endings } : {}),
    })
  }
  return made
}

function notesOf(rows: readonly NoteRow[], bars: readonly Bar[]): Omit<Note, 'hand'>[] {
  const notes = rows.map(
    ({
      id,
      hand,
      onsetQuarter,
      durationQuarter,
      pitch,
      spelled,
      voice = hand === 'left' ? '5' : '1',
      finger,
      grace,
      tiedIds = [],
      articulations,
      ornaments,
    }) => {
      const onset = exact(onsetQuarter)
      const barIndex = bars.findLastIndex(bar => compare(bar.start, onset) <= 0)
      return {
        id,
        ...(hand ? { hand } : {}),
        barIndex,
        onset,
        duration: exact(durationQuarter),
        pitch,
        spelled,
        voice,
        tiedIds,
        ...(finger === undefined ? {} : { finger }),
        ...(grace ? { grace: { slash: false, before: 1 } } : {}),
        ...(articulations ? { articulations } : {}),
        ...(ornaments ? { ornaments } : {}),
      }
    },
  )
  // Grace notes are counted from their main note backward.
  const later = new Map<string, number>()
  for (let index = notes.length - 1; index >= 0; index--) {
    const { grace, hand, onset } = notes[index]!
    const place = `${hand ?? ''} ${onset.n}/${onset.d}`
    if (!grace) continue
    grace.before = (later.get(place) ?? 0) + 1
    later.set(place, grace.before)
  }
  return notes
}
