import type { Hands } from '#core/music/arrangement'
import type { Take } from '#core/ear/take'
import Joi from 'joi'
import { insertPass } from '../../database/queries/passes'
import { partWithArrangement } from '../../database/queries/songs'

interface PassBody {
  id: string
  partId: string
  hands: Hands
  bpm: number
  startedAt: string
  lengthMs: number
  offsetMs: number
  take: Take
}

const ms = Joi.number().min(-60_000).max(3_600_000).required()
const schema = Joi.object<PassBody>({
  id: Joi.string().guid({ version: 'uuidv4' }).required(),
  partId: Joi.string().guid({ version: 'uuidv4' }).required(),
  hands: Joi.string().valid('right', 'left', 'both').required(),
  bpm: Joi.number().min(10).max(400).required(),
  startedAt: Joi.string().isoDate().required(),
  lengthMs: Joi.number().min(0).max(3_600_000).required(),
  offsetMs: Joi.number().min(-5000).max(5000).required(),
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
  const { partId, startedAt, ...played } = await checkedBody(event, schema)
  const row = await partWithArrangement(database(), playerId, partId)
  if (!row) throw notFound('this part')
  const kept = await insertPass(database(), row.part, row.arrangement.document, { ...played, startedAt: new Date(startedAt) })
  if (!kept) throw createError({ statusCode: 409, message: 'this id belongs to another pass' })
  setResponseStatus(event, 201)
  return { id: played.id }
})
