import { arrangementEnd, type Hands } from '#core/music/arrangement'
import { STRICTNESSES, type Strictness } from '#core/ear/parameters'
import type { Take } from '#core/ear/take'
import { isSameStretch, playedPassage, type Stretch } from '#core/music/passage'
import { stretchPlace } from '#core/music/stretch-place'
import { compare, ZERO } from '#core/music/quarters'
import Joi from 'joi'
import { partWithArrangement, stretchOf } from '../../database/queries/songs'
import { keepPass } from '../../use-cases/keep-pass'

interface PassBody {
  id: string
  /** The part it is of, or the first of those it goes over. */
  partId: string
  hands: Hands
  mode?: 'steady' | 'own-time'
  /** Where it lay, if it was not the part: a place in it, a join, the song. */
  stretch?: Stretch
  isOwnSpot?: boolean
  bpm: number
  startedAt: string
  lengthMs: number
  /** How late the keyboard answers, taken off every key. */
  offsetMs: number
  strictness?: Strictness
  take: Take
}

const ms = Joi.number().min(-60_000).max(3_600_000).required()
const schema = Joi.object<PassBody>({
  id: Joi.string().guid({ version: 'uuidv4' }).required(),
  partId: Joi.string().guid({ version: 'uuidv4' }).required(),
  hands: Joi.string().valid('right', 'left', 'both').required(),
  mode: Joi.string().valid('steady', 'own-time').default('steady'),
  stretch: Joi.object({ from: quartersSchema.required(), to: quartersSchema.required() }),
  isOwnSpot: Joi.boolean(),
  bpm: Joi.number().min(10).max(400).required(),
  startedAt: Joi.string().isoDate().required(),
  lengthMs: Joi.number().min(0).max(3_600_000).required(),
  offsetMs: Joi.number().min(-5000).max(5000).required(),
  strictness: Joi.string().valid(...STRICTNESSES).default('normal'),
  take: Joi.object({
    notes: Joi.array().max(20_000).required().items(Joi.object({
      onsetMs: ms, durationMs: Joi.number().min(0).max(3_600_000).required(),
      pitch: Joi.number().integer().min(0).max(127).required(), velocity: Joi.number().integer().min(1).max(127).required(),
    })),
    pedals: Joi.array().max(20_000).required().items(Joi.object({ atMs: ms, down: Joi.boolean().required() })),
  }).required(),
})

/** Keeps one pass. Sent twice with the same id it is kept once; the answer is the same. */
export default defineEventHandler(async (event) => {
  const playerId = await requirePlayerId(event)
  const { partId, startedAt, strictness = 'normal', mode = 'steady', stretch: own, ...played } = await checkedBody(event, schema)
  const row = await partWithArrangement(database(), playerId, partId)
  if (!row) throw notFound('this part')
  const { part, arrangement } = row
  const whole = stretchOf(part)
  const stretch = own ?? whole
  if (compare(stretch.from, ZERO) < 0 || compare(stretch.to, stretch.from) <= 0 || compare(stretch.to, arrangementEnd(arrangement.document)) > 0) {
    throw createError({ statusCode: 400, message: 'stretch: it ends before it begins, or lies outside the song' })
  }
  const isPart = isSameStretch(stretch, whole)
  const kept = await keepPass(database(), arrangement.document, {
    ...played, mode, strictness, startedAt: new Date(startedAt), ownerId: playerId, arrangementId: arrangement.id, partId,
    partName: part.name, ...(isPart ? {} : { place: stretchPlace(arrangement.document, stretch) }),
    stretch, passage: playedPassage(arrangement.document, stretch, played.hands),
  })
  if (!kept) throw createError({ statusCode: 409, message: 'this id belongs to another pass' })
  setResponseStatus(event, 201)
  return { id: played.id }
})
