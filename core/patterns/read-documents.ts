import Joi from 'joi'
import { LIMITS } from '../music/limits'
import { KEY_ORDERS, LINE_HANDS, RHYTHMS, SCALE_NAMES, SCALE_STEPS, type DrillRecipe } from './drills/recipe'
import { barOf, type HandCycle, type HandPattern } from './hand-pattern'
import type { PatternDocument, RecipeDocument } from './write-documents'

/** What patterns and recipes may hold at most: far above what a hand can play. */
export const PATTERN_LIMITS = { name: 60, cycles: 12, beats: 12, bars: 4, rows: 24, rowCharacters: 120 } as const
export const RECIPE_LIMITS = {
  title: 120,
  keys: 24,
  degrees: 64,
  chords: 400,
  passageNotes: 2_000,
  against: 12,
} as const

const cycleSchema = Joi.object<HandCycle>({
  beats: Joi.number().integer().min(1).max(PATTERN_LIMITS.beats).required(),
  division: Joi.number().valid(1, 2, 3, 4).required(),
  bars: Joi.array()
    .items(
      Joi.object()
        .pattern(Joi.string().max(20), Joi.string().allow('').max(PATTERN_LIMITS.rowCharacters))
        .max(PATTERN_LIMITS.rows),
    )
    .min(1)
    .max(PATTERN_LIMITS.bars)
    .required(),
  isCompound: Joi.boolean().valid(true),
}).custom((cycle: HandCycle) => {
  for (const rows of cycle.bars) barOf(cycle, rows)
  return cycle
})

/** A pattern as plain data, from a file or a request. */
export const patternSchema = Joi.object<PatternDocument>({
  format: Joi.string().valid('half-step/pattern').strip(),
  version: Joi.number().valid(1).strip(),
  name: Joi.string().trim().min(1).max(PATTERN_LIMITS.name).required(),
  hands: Joi.array().items(Joi.string().valid('left', 'right')).unique().min(1).default(['left', 'right']),
  cycles: Joi.array().items(cycleSchema).min(1).max(PATTERN_LIMITS.cycles).required(),
  isOneRhythm: Joi.boolean().valid(true),
  answers: Joi.boolean().valid(true),
  beside: Joi.string().max(PATTERN_LIMITS.name),
}).custom((pattern: HandPattern) => {
  if (pattern.cycles.every(cycle => cycle.bars.every(rows => barOf(cycle, rows).notes.length === 0)))
    throw new RangeError('nothing is played in it')
  return pattern
})

const tonic = Joi.string().pattern(/^[A-G](#|b)?$/)
const moment = Joi.object({
  n: Joi.number().integer().min(0).max(1_000_000).required(),
  d: Joi.number().integer().min(1).max(100_000).required(),
})
const octaves = Joi.number().integer().min(1).max(4).required()
const chordKind = Joi.string().allow('').max(12).required()
const passageNotes = Joi.array()
  .items(
    Joi.object({
      onset: moment.required(),
      duration: moment.required(),
      pitch: Joi.number().integer().min(21).max(108).required(),
      spelled: Joi.string()
        .pattern(/^[A-G](#{0,2}|b{0,2})-?\d$/)
        .required(),
    }),
  )
  .max(RECIPE_LIMITS.passageNotes)
  .required()

const MATERIALS: Readonly<Record<DrillRecipe['material']['kind'], Joi.PartialSchemaMap>> = {
  scale: {
    scale: Joi.string()
      .valid(...SCALE_NAMES)
      .required(),
    octaves,
    in: Joi.string().valid(...SCALE_STEPS),
  },
  'five-finger': { mode: Joi.string().valid('major', 'minor').required() },
  arpeggio: { chord: chordKind, octaves },
  inversions: { chord: chordKind, isBroken: Joi.boolean() },
  sevenths: { isBroken: Joi.boolean() },
  against: {
    right: Joi.number().integer().min(1).max(RECIPE_LIMITS.against).required(),
    left: Joi.number().integer().min(1).max(RECIPE_LIMITS.against).required(),
    beats: Joi.number().valid(1, 2).required(),
  },
  progression: { degrees: Joi.array().items(Joi.string().max(16)).min(1).max(RECIPE_LIMITS.degrees).required() },
  chart: { text: Joi.string().max(LIMITS.chartCharacters).required() },
  chords: {
    fifths: Joi.number().integer().min(-7).max(7).required(),
    length: moment.required(),
    chords: Joi.array()
      .items(
        Joi.object({
          symbol: Joi.string().max(LIMITS.symbolCharacters).required(),
          onset: moment.required(),
          end: moment.required(),
        }),
      )
      .min(1)
      .max(RECIPE_LIMITS.chords)
      .required(),
  },
  passage: {
    fifths: Joi.number().integer().min(-7).max(7).required(),
    length: moment.required(),
    right: passageNotes,
    left: passageNotes,
  },
}

const patternChoice = Joi.alternatives(Joi.string().max(PATTERN_LIMITS.name), patternSchema)

/** A drill's recipe as plain data, from a file or a request. */
export const recipeSchema = Joi.object<RecipeDocument>({
  format: Joi.string().valid('half-step/drill').strip(),
  version: Joi.number().valid(1).strip(),
  title: Joi.string().trim().min(1).max(RECIPE_LIMITS.title).default('Drill'),
  material: Joi.alternatives()
    .conditional('.kind', {
      switch: Object.entries(MATERIALS).map(([kind, fields]) => ({
        is: kind,
        then: Joi.object({ kind: Joi.string().valid(kind).required(), ...fields }),
      })),
      otherwise: Joi.object({
        kind: Joi.string()
          .valid(...Object.keys(MATERIALS))
          .required(),
      }),
    })
    .required(),
  hands: Joi.string().valid(...LINE_HANDS),
  patterns: Joi.object({ right: patternChoice, left: patternChoice }),
  keys: Joi.object({
    order: Joi.string()
      .valid(...KEY_ORDERS)
      .required(),
    from: tonic,
    list: Joi.array().items(tonic).min(1).max(RECIPE_LIMITS.keys),
    seed: Joi.number().integer().min(0).max(1_000_000_000),
  }).default({ order: 'one' }),
  meter: Joi.object({
    beats: Joi.number().integer().min(1).max(16).required(),
    beatType: Joi.number().valid(2, 4, 8).required(),
  }).default({ beats: 4, beatType: 4 }),
  division: Joi.number().valid(1, 2, 3, 4),
  rhythm: Joi.string().valid(...RHYTHMS),
  swing: Joi.number().min(1).max(3),
  bpm: Joi.number().min(20).max(400).default(80),
  doubleTime: Joi.boolean(),
})

/** Plain data as what a schema says. Throws a RangeError that names the place and what was expected there. */
function checked<T>(schema: Joi.Schema<T>, value: unknown): T {
  const { error, value: own } = schema.validate(value, { convert: false, errors: { wrap: { label: false } } })
  if (error) throw new RangeError(error.message)
  return own as T
}

export const patternFrom = (value: unknown): HandPattern => checked<HandPattern>(patternSchema, value)
export const recipeFrom = (value: unknown): DrillRecipe => checked<DrillRecipe>(recipeSchema, value)
