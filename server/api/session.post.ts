import { signIn } from '../use-cases/sign-in'

/** Signs a player in. */
export default forAnybody(async ({ event, db }) => {
  const account = await signIn(
    { db, passwords: passwords(), tries: tries() },
    { ...(await checkedBody(event, credentialsSchema)), address: addressOf(event) },
  )
  await beginSessionFor(event, account)
  return { name: account.name }
})
