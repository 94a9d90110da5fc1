import { accountById } from '../../database/queries/accounts'
import { notThere } from '../../use-cases/refusal'

/** Everything of the player in one file (docs/formats.md), written as it is fetched. */
export default forPlayer(async ({ event, playerId, db, signal }) => {
  const account = await accountById(db, playerId)
  if (!account) throw notThere('this account')
  await sendArchive(
    event,
    playerId,
    { kind: 'player' },
    `${account.name} ${new Date().toISOString().slice(0, 10)}`,
    signal,
  )
})
