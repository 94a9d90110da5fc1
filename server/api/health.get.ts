/**
 * Whether the server can do its work, as it was found a moment ago: asking never waits for the database. 503 while it
 * cannot.
 */
export default defineEventHandler(event => {
  setResponseHeader(event, 'cache-control', 'no-store')
  const found = health()
  if (!found.ready) setResponseStatus(event, 503)
  return found
})
