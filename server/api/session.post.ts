import { credentialsSchema } from '#shared/utils/credentials'
import { passwords } from '../security/passwords'
import { loginRateLimiter } from '../security/login-rate-limiter'
import { signIn } from '../use-cases/sign-in'

/** Signs a player in. */
export default forAnybody(async ({ event, db }) => {
  const account = await signIn(
    { db, passwords: passwords(), loginRateLimiter: loginRateLimiter() },
    { ...(await validBody(event, credentialsSchema)), address: addressOf(event) },
  )
  await beginSessionFor(event, account)
  return { name: account.name }
})
