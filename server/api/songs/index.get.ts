import Joi from 'joi'
import { listSongs } from '../../database/queries/songs'

const schema = Joi.object<{ archived: boolean }>({ archived: Joi.boolean().default(false) })

export default defineEventHandler(async event => await listSongs(database(), await requirePlayerId(event), checkedQuery(event, schema).archived))
