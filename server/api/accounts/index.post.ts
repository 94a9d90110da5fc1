import { Refusal } from '../../use-cases/refusal'
import { register } from '../../use-cases/sign-in'

/** Makes an account and signs its player in. */
export default forAnybody(async ({ event, db }) => {
  const credentials = await checkedBody(event, credentialsSchema)
  if (isRegistrationClosed()) throw new Refusal(403, 'new accounts are closed on this server')
  // On this machine itself nobody is kept from making accounts.
  const address = isLoopback(event) ? crypto.randomUUID() : addressOf(event)
  const account = await register({ db, passwords: passwords(), tries: tries() }, { ...credentials, address })
  await beginSessionFor(event, account)
  setResponseStatus(event, 201)
  return { name: account.name }
})
