import Joi from 'joi'
import { daySchema, itemSchema, timestampSchema, placeSchema } from '../coach/date-schemas'
import { PRACTICE_ROLES } from '../coach/session'
import { JUDGE_VERSION, type Assessment } from '../ear/assessment'
import { FINDING_KINDS } from '../ear/finding'
import { STRICTNESSES } from '../ear/parameters'
import { quartersSchema } from '../formats/arrangement-schema'
import type { SongOrigin } from '../formats/song-origin'
import { LIMITS } from '../music/limits'
import { LEVELS } from '../patterns/editions'
import { patternSchema, recipeSchema } from '../patterns/read-documents'
import {
  ARCHIVE_FORMAT,
  ARCHIVE_LIMITS,
  ARCHIVE_VERSION,
  type ArchivedDay,
  type ArchivedPass,
  type ArchivedPattern,
  type ArchivedSong,
  type ArchiveHead,
} from './archive'

const id = Joi.string().guid().lowercase()
const text = Joi.string().allow('').max(LIMITS.textLength)
const count = Joi.number().integer().min(0)

export const headSchema = Joi.object<ArchiveHead>({
  format: Joi.string().valid(ARCHIVE_FORMAT).required(),
  version: Joi.number().valid(ARCHIVE_VERSION).required(),
  kind: Joi.string().valid('player', 'songs').required(),
  writtenAt: timestampSchema.required(),
  player: Joi.string().max(60),
  patterns: count.max(ARCHIVE_LIMITS.patterns).required(),
  songs: count.max(ARCHIVE_LIMITS.songs).required(),
  passes: count.max(ARCHIVE_LIMITS.passes).required(),
})

export const daysSchema = Joi.array<ArchivedDay[]>()
  .max(ARCHIVE_LIMITS.days)
  .items(
    Joi.object<ArchivedDay>({
      day: daySchema.required(),
      minutes: Joi.number().integer().min(1).max(1_440).required(),
      note: Joi.string().allow('').max(4_000).required(),
      skipped: Joi.array()
        .max(1_000)
        .items(
          Joi.object({
            id: Joi.string().max(300).required(),
            what: itemSchema,
            text: Joi.string().max(1_000),
            at: timestampSchema.required(),
          }),
        )
        .required(),
    }),
  )
  .unique('day')

export const archivedPatternSchema = Joi.object<ArchivedPattern>({
  id: id.required(),
  pattern: patternSchema.required(),
  createdAt: timestampSchema.required(),
})

const hand = Joi.string().valid('right', 'left')
const handsPatterns = Joi.object({ right: patternSchema, left: patternSchema })
const origin = (kind: SongOrigin['kind'], fields: Joi.PartialSchemaMap = {}) => ({
  is: kind,
  then: Joi.object({ kind: Joi.string().valid(kind).required(), ...fields }),
})
const originSchema = Joi.alternatives().conditional('.kind', {
  switch: [
    origin('file'),
    origin('played'),
    origin('chart', { patterns: handsPatterns }),
    origin('copy', { of: id.required() }),
    origin('pattern', { of: id.required(), hand: hand.required(), pattern: patternSchema.required() }),
    origin('level', {
      of: id.required(),
      level: Joi.number()
        .valid(...LEVELS)
        .required(),
      pattern: patternSchema,
    }),
    origin('key', { of: id.required(), halfSteps: Joi.number().integer().min(-12).max(12).required() }),
    origin('drill', { recipe: recipeSchema.required() }),
  ],
  otherwise: Joi.forbidden(),
})

const part = Joi.object({
  id: id.required(),
  name: Joi.string().max(LIMITS.textLength).required(),
  section: text.allow(null).required(),
  from: quartersSchema.required(),
  to: quartersSchema.required(),
  ownLikeness: Joi.object({ right: id.allow(null), left: id.allow(null) }).required(),
})

export const songSchema = Joi.object<ArchivedSong>({
  id: id.required(),
  title: text.required(),
  composer: text.required(),
  edition: text.required(),
  editionOf: id.allow(null).required(),
  role: Joi.string()
    .valid(...PRACTICE_ROLES)
    .required(),
  origin: originSchema.required(),
  targetDate: daySchema.allow(null).required(),
  targetShare: Joi.number().min(0.1).max(4).required(),
  proposal: Joi.number().integer().min(1).max(1_000).required(),
  createdAt: timestampSchema.required(),
  archivedAt: timestampSchema.allow(null).required(),
  deletedAt: timestampSchema.allow(null).required(),
  revisions: Joi.array()
    .items(
      Joi.object({
        revision: Joi.number().integer().min(-100_000).max(100_000).required(),
        bars: Joi.number().integer().min(1).max(LIMITS.bars).required(),
        createdAt: timestampSchema.required(),
      }),
    )
    .min(1)
    .max(ARCHIVE_LIMITS.revisions)
    .unique('revision')
    .required(),
  parts: Joi.array().items(part).max(ARCHIVE_LIMITS.parts).unique('id').required(),
})

const handsSchema = Joi.string().valid('right', 'left', 'both')
const modeSchema = Joi.string().valid('steady', 'free', 'own-time')
const strictnessSchema = Joi.string().valid(...STRICTNESSES)
const figure = Joi.number().min(-1e9).max(1e9)
const ear = Joi.number()
  .integer()
  .min(1)
  .max(JUDGE_VERSION)
  .messages({ 'number.max': '{{#label}} is of a newer version of Half Step' })
const kinds = Joi.array()
  .items(Joi.string().valid(...FINDING_KINDS))
  .max(60)

/**
 * A finding: its kind, and whatever its words are made from. That these can be made is tried besides (`checkedPass`).
 */
const scalar = Joi.alternatives(figure, Joi.boolean(), Joi.string().allow('').max(LIMITS.textLength), Joi.valid(null))
const plainObject = Joi.object()
  .pattern(Joi.string().max(40), Joi.alternatives(scalar, Joi.array().items(scalar).max(2_000)))
  .max(40)
const finding = Joi.object({
  kind: Joi.string()
    .valid(...FINDING_KINDS)
    .required(),
})
  .pattern(
    Joi.string().max(40),
    Joi.alternatives(scalar, plainObject, Joi.array().items(scalar, plainObject).max(LIMITS.takeNotes)),
  )
  .max(40)

const noteSchema = Joi.object({
  id: Joi.string().max(100).required(),
  hand: hand.required(),
  bar: figure.required(),
  beat: figure.required(),
  pitch: figure.required(),
  outcome: Joi.string().valid('right', 'wrong', 'missed').required(),
  played: figure.allow(null).required(),
  playedPitch: figure.allow(null).required(),
  deviationMs: figure.allow(null).required(),
  articulation: figure.allow(null).required(),
  velocity: figure.allow(null).required(),
  finger: figure,
  spreadMs: figure,
  overlapMs: figure,
  octave: true,
  sharedKey: true,
  time: figure,
})
const summary = Joi.object({
  clean: Joi.boolean().required(),
  failed: Joi.array()
    .items(Joi.string().valid('notes', 'time', 'hands'))
    .max(3)
    .required(),
  cleanBut: kinds.required(),
  ...Object.fromEntries(
    [
      'notes',
      'right',
      'wrong',
      'missed',
      'extra',
      'restarts',
      'onTimeShare',
      'onTimeMs',
      'offsetMs',
      'driftPercent',
      'unsteadinessMs',
      'score',
    ].map(name => [name, figure.required()]),
  ),
  ...Object.fromEntries(
    ['swingRatio', 'swingAsked', 'chordSpreadMs', 'leftBehindMs', 'articulation', 'balanceSteps', 'pedalMs'].map(
      name => [name, figure.allow(null).required()],
    ),
  ),
})
const assessmentSchema = Joi.object<Assessment>({
  format: Joi.string().valid('half-step/assessment').required(),
  version: Joi.number().valid(1).required(),
  score: Joi.object({
    title: text.required(),
    bars: Joi.string().allow('').max(60).required(),
    hands: handsSchema.required(),
    bpm: figure.required(),
    beatBpm: figure,
  }).required(),
  mode: modeSchema.required(),
  strictness: strictnessSchema.required(),
  notes: Joi.array().items(noteSchema).max(LIMITS.notes).required(),
  extras: Joi.array()
    .items(
      Joi.object({
        played: figure.required(),
        pitch: figure.required(),
        atMs: figure.required(),
        restart: true,
        ornament: true,
        doubled: true,
        restruck: true,
        repeat: true,
      }),
    )
    .max(LIMITS.takeNotes)
    .required(),
  summary: summary.required(),
  measures: Joi.array()
    .items(
      Joi.object({
        name: Joi.string().max(40).required(),
        value: figure.allow(null).required(),
        unit: Joi.string().allow('').max(40).required(),
        least: figure,
        most: figure,
        within: Joi.boolean().required(),
        source: Joi.string().max(40).required(),
        toleranceMs: figure,
        beatShare: figure,
        withClick: Joi.boolean(),
      }),
    )
    .max(40)
    .required(),
  findings: Joi.array().items(finding).max(2_000).required(),
  tempos: Joi.array()
    .items(Joi.object({ bar: figure.required(), bpm: figure.required() }))
    .max(20 * LIMITS.bars),
  ear: ear.required(),
})

/** Older judges had other fields. Their passes are judged again from the take when next asked for. */
const olderAssessmentSchema = Joi.object({
  notes: Joi.array().items(Joi.object().unknown()).max(LIMITS.notes).required(),
  findings: Joi.array().items(Joi.object().unknown()).max(20_000),
}).unknown()

export const passSchema = Joi.object<ArchivedPass>({
  id: id.required(),
  song: id.required(),
  revision: Joi.number().integer().required(),
  part: id.allow(null).required(),
  partName: text.required(),
  place: placeSchema.allow(null).required(),
  from: quartersSchema.required(),
  to: quartersSchema.required(),
  hands: handsSchema.required(),
  mode: modeSchema.required(),
  strictness: strictnessSchema.required(),
  keyboardDelayMs: Joi.number().integer().min(-100_000).max(100_000).required(),
  bpm: Joi.number().min(0).max(100_000).required(),
  startedAt: timestampSchema.required(),
  lengthMs: Joi.number()
    .integer()
    .min(0)
    .max(2 * LIMITS.takeMs)
    .required(),
  ...Object.fromEntries(
    ['notes', 'right', 'wrong', 'missed', 'extra', 'score'].map(name => [name, count.max(1e6).required()]),
  ),
  ...Object.fromEntries(
    ['onTimeShare', 'offsetMs', 'driftPercent', 'unsteadinessMs'].map(name => [name, figure.required()]),
  ),
  clean: Joi.boolean().required(),
  ownSpot: Joi.boolean().required(),
  cleanBut: kinds.required(),
  cleanBefore: Joi.boolean().allow(null).required(),
  ear: ear.required(),
  found: Joi.array().items(finding).max(20).allow(null).required(),
  sentence: Joi.string().allow('').max(2_000).allow(null).required(),
  notesKey: Joi.string().max(200).allow(null).required(),
  failed: Joi.array().items(quartersSchema).max(LIMITS.notes).allow(null).required(),
  remark: Joi.string().allow('').max(2_000).required(),
  savedAt: timestampSchema.required(),
  assessment: Joi.alternatives().conditional('ear', {
    is: JUDGE_VERSION,
    then: assessmentSchema.required(),
    otherwise: olderAssessmentSchema.required(),
  }),
})
