import Joi from 'joi'
import type { Arrangement, Bar } from '../music/arrangement'
import { LIMITS } from '../music/limits'
import { unplainTextIn } from '../music/plain-text'
import { add, compare, equal, quarters, ZERO, type Quarters } from '../music/quarters'
import { VOICE_ASSIGNMENTS } from '../music/voice'
import { UnusableInput } from './unusable'

const WHOLE = Joi.number().integer().max(1e9)
/** Finer than any note value, tuplets of tuplets included. */
const MAX_DIVISIONS = 1e6
/** A moment or length in quarter notes, as an exact fraction. */
export const quartersSchema = Joi.object<Quarters>({
  n: WHOLE.min(-1e9).required(),
  d: WHOLE.min(1).max(MAX_DIVISIONS).required(),
})

const text = Joi.string().allow('').max(LIMITS.textLength)
const id = Joi.string().min(1).max(100)
const at = { onset: quartersSchema.required() }
const hand = Joi.string().valid('right', 'left')
const names = Joi.array().items(Joi.string().max(60)).max(20)
const flag = Joi.boolean().valid(true)
const list = <Item>(item: Joi.PartialSchemaMap<Item>, most: number = LIMITS.marks) =>
  Joi.array().items(Joi.object(item)).max(most)

const bar = {
  index: Joi.number().integer().min(0).max(LIMITS.bars).required(),
  number: Joi.number().integer().min(-100_000).max(100_000).required(),
  start: quartersSchema.required(),
  length: quartersSchema.required(),
  offset: quartersSchema.required(),
  meter: Joi.object({
    beats: Joi.number().integer().min(1).max(1_000).required(),
    beatType: Joi.number().integer().min(1).max(128).required(),
    groups: Joi.array().items(Joi.number().integer().min(1).max(1_000)).max(64),
  }).required(),
  fifths: Joi.number().integer().min(-14).max(14).required(),
  repeatStart: flag,
  repeatEnd: Joi.number().integer().min(1).max(100),
  endings: Joi.array().items(Joi.number().integer().min(1).max(100)).max(100),
  sectionEnd: flag,
  segno: flag,
  coda: flag,
  toCoda: flag,
  fine: flag,
  jump: Joi.string().valid('da capo', 'dal segno'),
} satisfies Joi.PartialSchemaMap<Bar>

const note = {
  id: id.required(),
  barIndex: Joi.number().integer().min(0).max(LIMITS.bars).required(),
  ...at,
  duration: quartersSchema.required(),
  pitch: Joi.number().integer().min(0).max(127).required(),
  spelled: Joi.string().max(12).required(),
  voice: Joi.string().allow('').max(100).required(),
  tiedIds: Joi.array().items(id).max(2_000).required(),
  tiedAt: Joi.array().items(quartersSchema).max(2_000),
  finger: Joi.number().integer().min(1).max(5),
  fingerBy: Joi.string().valid('player'),
  grace: Joi.object({ slash: Joi.boolean().required(), before: Joi.number().integer().min(0).max(1_000).required() }),
  articulations: names,
  ornaments: names,
  track: Joi.number().integer().min(0).max(100_000),
}

const plays = Joi.string().valid(...VOICE_ASSIGNMENTS)
const remark = Joi.object({
  kind: Joi.string().max(40).required(),
  name: text,
  bar: Joi.string().max(20),
  places: Joi.number().integer().min(0).max(1e6),
  staves: Joi.number().integer().min(0).max(1_000),
  notes: Joi.number().integer().min(0).max(1e6),
  of: Joi.number().integer().min(0).max(1e6),
  right: text,
  left: text,
})

/** An arrangement as plain data: its shape. What hangs together in it is looked at by `checkedArrangement`. */
const arrangementSchema = Joi.object<Arrangement>({
  format: Joi.string().valid('half-step/arrangement').required(),
  version: Joi.number().valid(1).required(),
  title: text.required(),
  composer: text.required(),
  bars: list(bar, LIMITS.bars).min(1).required(),
  order: Joi.array()
    .items(Joi.number().integer().min(0))
    .min(1)
    .max(20 * LIMITS.bars)
    .required(),
  notes: list({ ...note, hand: hand.required() }, LIMITS.notes).required(),
  others: list(
    {
      name: text.required(),
      program: Joi.number().integer().min(0).max(127),
      percussion: flag,
      silent: flag,
      notes: list(note, LIMITS.notes).required(),
    },
    LIMITS.tracks,
  ).required(),
  tracks: list(
    {
      number: Joi.number().integer().min(0).max(100_000).required(),
      name: text.required(),
      program: Joi.number().integer().min(0).max(127).required(),
      percussion: flag,
      plays: plays.required(),
    },
    LIMITS.tracks,
  ),
  partPlays: Joi.array().items(plays).max(LIMITS.parts),
  chords: list({
    ...at,
    symbol: text.required(),
    name: text.required(),
    inversion: Joi.number().integer().min(0).max(12).allow(null).required(),
    bass: Joi.string().allow('').max(12).required(),
    notes: Joi.array().items(Joi.string().max(12)).max(24).required(),
  }).required(),
  lyrics: list(
    {
      noteId: id.required(),
      ...at,
      verse: Joi.string().allow('').max(60).required(),
      text: text.required(),
      hyphen: Joi.boolean().required(),
    },
    LIMITS.notes,
  ).required(),
  pedals: list({ ...at, kind: Joi.string().valid('down', 'up', 'change').required() }).required(),
  dynamics: list({ ...at, mark: Joi.string().max(40).required(), hand }).required(),
  tempos: list({ ...at, quarterBpm: Joi.number().min(1).max(10_000).required() }).required(),
  swings: list({ ...at, unit: Joi.string().valid('eighth', '16th').required(), ratio: Joi.number().min(0.1).max(10) }),
  tempoWords: list({ ...at, kind: Joi.string().valid('slower', 'faster', 'back').required() }),
  rehearsals: list({ ...at, name: text.required() }).required(),
  slurs: list({ from: id.required(), to: id.required() }, LIMITS.notes),
  warnings: Joi.array()
    .items(remark, Joi.string().max(1_000))
    .max(2 * LIMITS.warnings)
    .required(),
})

/**
 * Plain data as an arrangement: of the right shape, within the limits, and of one piece. Throws UnusableInput that
 * names the place, as in "notes[3].pitch".
 */
export function checkedArrangement(value: unknown): Arrangement {
  const unplain = unplainTextIn(value)
  if (unplain !== undefined) throw new UnusableInput(unplain, 'it has a control character or half a character in it')
  const { error } = arrangementSchema.required().validate(value, { convert: false, errors: { wrap: { label: false } } })
  if (error)
    throw new UnusableInput(
      error.details[0]?.path
        .map(step => (typeof step === 'number' ? `[${step}]` : `.${step}`))
        .join('')
        .replace(/^\./, '') ?? '',
      error.message,
    )
  const arrangement = value as Arrangement
  const fault = faultOf(arrangement)
  if (fault) throw new UnusableInput(fault.place, fault.expected)
  return arrangement
}

/** What does not hang together. */
function faultOf({
  bars,
  order,
  notes,
  others,
  slurs = [],
  lyrics,
}: Arrangement): { place: string; expected: string } | undefined {
  let start = ZERO
  for (const [index, one] of bars.entries()) {
    if (one.index !== index)
      return { place: `bars[${index}].index`, expected: `bars are numbered in order, so ${index} was expected` }
    if (!isLowest(one.start) || !equal(one.start, start))
      return { place: `bars[${index}].start`, expected: 'a bar begins where the one before ends' }
    if (!isLowest(one.length) || compare(one.length, ZERO) <= 0)
      return { place: `bars[${index}].length`, expected: 'a length above 0 in lowest terms was expected' }
    start = add(start, one.length)
  }
  const unknown = order.findIndex(index => index >= bars.length)
  if (unknown >= 0) return { place: `order[${unknown}]`, expected: 'there is no such bar' }
  const all = [
    ['notes', notes] as const,
    ...others.map((role, index) => [`others[${index}].notes`, role.notes] as const),
  ]
  if (all.reduce((sum, [, its]) => sum + its.length, 0) > LIMITS.notes)
    return { place: 'notes', expected: `at most ${LIMITS.notes} were expected` }
  const ids = new Set<string>()
  for (const [place, these] of all) {
    for (const [index, one] of these.entries()) {
      const where = `${place}[${index}]`
      const its = bars[one.barIndex]
      if (!its) return { place: `${where}.barIndex`, expected: 'there is no such bar' }
      if (
        !isLowest(one.onset) ||
        compare(one.onset, its.start) < 0 ||
        compare(one.onset, add(its.start, its.length)) > 0
      )
        return { place: `${where}.onset`, expected: 'a moment in its bar, in lowest terms, was expected' }
      if (!isLowest(one.duration) || compare(one.duration, ZERO) < 0)
        return { place: `${where}.duration`, expected: 'a length in lowest terms was expected' }
      if (index > 0 && compare(these[index - 1]!.onset, one.onset) > 0)
        return { place: `${where}.onset`, expected: 'notes stand in the order of their onsets' }
      // Of one note the further noteheads may be named twice: so they were by earlier versions.
      for (const name of new Set([one.id, ...one.tiedIds])) {
        if (ids.has(name)) return { place: where, expected: `the id "${name}" stands twice` }
        ids.add(name)
      }
    }
  }
  const slur = slurs.findIndex(({ from, to }) => !ids.has(from) || !ids.has(to))
  if (slur >= 0) return { place: `slurs[${slur}]`, expected: 'it goes from a note to a note' }
  const lyric = lyrics.findIndex(({ noteId }) => !ids.has(noteId))
  return lyric >= 0 ? { place: `lyrics[${lyric}].noteId`, expected: 'there is no such note' } : undefined
}

const isLowest = (moment: Quarters): boolean => equal(quarters(moment.n, moment.d), moment)
