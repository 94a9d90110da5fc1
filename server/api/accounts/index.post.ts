import { newcomerSchema } from '#shared/utils/credentials'
import { passwords } from '../../security/passwords'
import { loginRateLimiter } from '../../security/login-rate-limiter'
import { registrationFor } from '../../use-cases/registration'
import { Refusal } from '../../use-cases/refusal'
import { register, registerFirst } from '../../use-cases/sign-in'

/** Makes an account and signs its player in. */
export default forAnybody(async ({ event, db }) => {
  const { name, password } = await validBody(event, newcomerSchema)
  const door = await registrationFor(db, registrationPolicyOf(event))
  if (door.may === 'nobody') throw new Refusal(403, door.why)
  if (password === undefined && door.may !== 'first') throw new Refusal(400, '"password" is required')
  // On this machine itself the number of new accounts is not limited.
  const address = isLoopback(event) ? crypto.randomUUID() : addressOf(event)
  const account =
    password === undefined
      ? await registerFirst(db, name)
      : await register(
          { db, passwords: passwords(), loginRateLimiter: loginRateLimiter() },
          { name, password, address },
        )
  await beginSessionFor(event, account, { isOpen: password === undefined })
  setResponseStatus(event, 201)
  return { name: account.name }
})
