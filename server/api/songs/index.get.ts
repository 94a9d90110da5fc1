import Joi from 'joi'
import { listSongs } from '../../database/queries/songs'

const schema = Joi.object<{ archived: boolean }>({ archived: Joi.boolean().default(false) })

export default forPlayer(
  async ({ event, playerId, db }) => await listSongs(db, playerId, { archived: validQuery(event, schema).archived }),
)
