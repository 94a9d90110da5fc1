/** Behind a proxy that asks for it, browsers are told to come over TLS only, for half a year. */
const HSTS = `max-age=${180 * 24 * 60 * 60}`

export default defineEventHandler(event => {
  if (asksForTls() && isOverTls(event)) setResponseHeader(event, 'strict-transport-security', HSTS)
})
