import { progressOf } from '#core/coach/song-plan'
import { unitText } from '#core/words/coach'
import Joi from 'joi'
import type { Hands } from '#core/music/arrangement'
import { notThere } from '../../use-cases/refusal'

const schema = Joi.object<{ song: string; hands?: Hands }>({
  song: idSchema.required(),
  hands: Joi.string().valid('right', 'left', 'both'),
})

/** The gates of a song that opened, oldest first, with how many passes each took. Twins have theirs once. */
export default forPlayer(async ({ event, playerId }) => {
  const { song: id, hands } = validQuery(event, schema)
  const song = await songOf(playerId, id)
  if (!song) throw notThere('this song')
  const {
    plan: { stages },
    record: { standing },
  } = song
  return stages
    .filter(
      (stage, index) =>
        (!hands || stage.hands === hands) && stages.findIndex(other => other.key === stage.key) === index,
    )
    .flatMap(stage =>
      progressOf(standing, stage).gates.map(gate => ({ ...gate, name: unitText(stage.unit), hands: stage.hands })),
    )
    .sort((a, b) => a.atMs - b.atMs)
})
