import { keysWithSignature } from '#core/patterns/drills/keys'
import { songSignatures } from '../../database/queries/drills'

/**
 * The keys that the player's songs are in, by their tonics: as major and as minor keys of the same signatures, the most
 * usual first.
 */
export default forPlayer(async ({ playerId, db }) => {
  const keys = (await songSignatures(db, playerId)).map(keysWithSignature)
  return { major: keys.map(key => key.major), minor: keys.map(key => key.minor) }
})
