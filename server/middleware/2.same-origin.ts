/** A change is only accepted from this site's own pages: a browser names where a request comes from. */
export default defineEventHandler(event => {
  if (['GET', 'HEAD', 'OPTIONS'].includes(event.method)) return
  const site = getRequestHeader(event, 'sec-fetch-site')
  const origin = getRequestHeader(event, 'origin')
  const own = origin === undefined || (URL.canParse(origin) && new URL(origin).host === getRequestHeader(event, 'host'))
  if (!own || (site !== undefined && site !== 'same-origin' && site !== 'none')) {
    throw createError({ statusCode: 403, message: 'this request comes from another site' })
  }
})
