import { listSongs } from '../../database/queries/songs'

export default defineEventHandler(async event => await listSongs(database(), await requirePlayerId(event)))
