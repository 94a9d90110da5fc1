import { ARCHIVE_LIMITS } from '#core/archive/archive'
import { LIMITS } from '#core/music/limits'

/** The routes that take a file: a score, a recording. */
const FILE_ROUTES = /^\/api\/songs(\/[^/]+\/recordings)?$/
/** The route that takes an archive. */
const ARCHIVE_ROUTE = '/api/archive'
/** The largest body of any other route. A pass of 20,000 notes fits. */
const JSON_BYTES = 2_000_000

/** Refuses a body that does not say its size (411) or says it is too large (413), before anything reads it. */
export default defineEventHandler(event => {
  if (!['POST', 'PUT', 'PATCH', 'DELETE'].includes(event.method)) return
  const length = getRequestHeader(event, 'content-length')
  if (length === undefined) {
    if (event.method === 'DELETE' && getRequestHeader(event, 'transfer-encoding') === undefined) return
    throw createError({ statusCode: 411, message: 'a Content-Length is needed' })
  }
  const path = event.path.split('?')[0]!
  const most =
    path === ARCHIVE_ROUTE ? ARCHIVE_LIMITS.fileBytes : FILE_ROUTES.test(path) ? LIMITS.fileBytes : JSON_BYTES
  if (!/^\d+$/.test(length) || Number(length) > most)
    throw createError({ statusCode: 413, message: `the body may have at most ${most} bytes` })
})
