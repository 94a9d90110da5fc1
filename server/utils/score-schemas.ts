import type { Change } from '#core/edit/change'
import { BEATS, MAX_TAPS } from '#core/formats/midi/read-arrangement'
import { quartersSchema } from '#core/formats/arrangement-schema'
import type { SongChoices } from '#core/formats/read-score'
import { LIMITS } from '#core/music/limits'
import { patternSchema } from '#core/patterns/read-documents'
import { VOICE_ASSIGNMENTS, type VoiceChoice } from '#core/music/voice'
import Joi from 'joi'

export { quartersSchema }

const noteId = Joi.string().max(100)
/** Checked by hand: there may be a great many. */
const noteIds = Joi.any().custom((ids: unknown, helpers) =>
  Array.isArray(ids) &&
  ids.length >= 1 &&
  ids.length <= LIMITS.notes &&
  ids.every(id => typeof id === 'string' && id.length <= 100)
    ? ids
    : helpers.message({ custom: `{{#label}} must be a list of up to ${LIMITS.notes} ids of notes` }),
)
const hand = Joi.string().valid('right', 'left')
const pitch = Joi.number().integer().min(0).max(127)
const halfSteps = Joi.number().integer().min(-60).max(60)
const change = (kind: Change['kind'], fields: Joi.SchemaMap) =>
  Joi.object({ kind: Joi.string().valid(kind).required(), ...fields })

/** One correction; the fields of each kind are those of `Change` in core/edit. */
export const changeSchema = Joi.alternatives().conditional('.kind', {
  switch: [
    change('pitch', { ids: noteIds.required(), halfSteps: halfSteps.required() }),
    change('spelling', {
      id: noteId.required(),
      spelled: Joi.string()
        .pattern(/^[A-G](#{0,2}|b{0,2})-?\d$/)
        .required(),
    }),
    change('length', { id: noteId.required(), duration: quartersSchema.required() }),
    change('hand', { ids: noteIds.required(), hand: hand.required() }),
    change('join', { ids: Joi.array().items(noteId).length(2).required() }),
    change('divide', { id: noteId.required(), at: quartersSchema.required() }),
    change('delete', { ids: noteIds.required() }),
    change('insert', {
      hand: hand.required(),
      onset: quartersSchema.required(),
      duration: quartersSchema.required(),
      pitches: Joi.array().items(pitch).min(1).max(10).required(),
    }),
    change('finger', { id: noteId.required(), finger: Joi.number().integer().min(1).max(5).allow(null).required() }),
    change('fingers', {
      fingers: Joi.array()
        .items(Joi.object({ id: noteId.required(), finger: Joi.number().integer().min(1).max(5).required() }))
        .min(1)
        .max(20_000)
        .required(),
    }),
    change('transpose', { halfSteps: Joi.number().integer().min(-12).max(12).required() }),
    change('tempo', {
      onset: quartersSchema.required(),
      quarterBpm: Joi.number().min(5).max(1000).allow(null).required(),
    }),
    change('swing', { onset: quartersSchema.required(), ratio: Joi.number().min(1).max(5).allow(null).required() }),
    change('chord', { onset: quartersSchema.required(), symbol: Joi.string().max(40).allow(null).required() }),
    change('lyric', {
      id: noteId.required(),
      text: Joi.string().allow('').max(300).required(),
      hyphen: Joi.boolean().required(),
    }),
    change('dynamic', {
      onset: quartersSchema.required(),
      mark: Joi.string()
        .valid('ppp', 'pp', 'p', 'mp', 'mf', 'f', 'ff', 'fff', 'crescendo', 'diminuendo', 'wedge end')
        .allow(null)
        .required(),
      hand,
    }),
    change('pedal', {
      onset: quartersSchema.required(),
      mark: Joi.string().valid('down', 'up', 'change').allow(null).required(),
    }),
    change('append', {
      notes: Joi.array()
        .items(
          Joi.object({
            hand: hand.required(),
            onset: quartersSchema.required(),
            duration: quartersSchema.required(),
            pitch: pitch.required(),
          }),
        )
        .min(1)
        .max(2_000)
        .required(),
    }),
  ].map(then => ({ is: (then.extract('kind') as Joi.StringSchema).required(), then })),
  otherwise: Joi.forbidden(),
}) as Joi.Schema<Change>

const DAY_MS = 86_400_000

/** Assignments, by the numbers of the voices. */
export const voicesSchema = Joi.object<VoiceChoice>()
  .pattern(Joi.string().pattern(/^\d{1,3}$/), Joi.string().valid(...VOICE_ASSIGNMENTS))
  .max(200)

/** What a player decides about a song that comes in. */
export const choicesSchema = Joi.object<SongChoices>({
  title: Joi.string().trim().min(1).max(300),
  composer: Joi.string().trim().allow('').max(300),
  hands: Joi.string().valid('found', 'right', 'left'),
  swapHands: Joi.boolean(),
  voices: voicesSchema,
  beats: Joi.string().valid(...BEATS),
  tapsMs: Joi.array().items(Joi.number().integer().min(0).max(DAY_MS)).max(MAX_TAPS),
  tapQuarters: Joi.number().valid(0.5, 1, 1.5, 2),
  barLinesMs: Joi.array().items(Joi.number().integer().min(0).max(DAY_MS)).max(200),
  meter: Joi.object({
    beats: Joi.number().integer().min(1).max(32).required(),
    beatType: Joi.number().valid(1, 2, 4, 8, 16).required(),
  }),
  fifths: Joi.number().integer().min(-7).max(7),
  pickupQuarters: Joi.number().min(0).max(32),
  swing: Joi.boolean(),
  bpm: Joi.number().min(5).max(1000),
  barsPerChord: Joi.number().min(0.25).max(1),
  patterns: Joi.object({ left: patternSchema, right: patternSchema }),
})
