import type { H3Event } from 'h3'

/** The signed-in player's id; a 401 for nobody. */
export async function requirePlayerId(event: H3Event): Promise<string> {
  const { user } = await requireUserSession(event)
  return user.id
}

export const notFound = (what: string) => createError({ statusCode: 404, message: `${what} is not there, or is not yours` })

/** The answer to a save that could not be: 404 for what is not there, 409 for what was saved in another window since. */
export const refused = (why: 'missing' | 'stale') => why === 'missing'
  ? notFound('this arrangement')
  : createError({ statusCode: 409, message: 'this song was changed in another window since; reload the page to go on from there' })

/** Whether the request comes from this machine and is addressed to it by name: no other site, no other host. */
export function isLoopback(event: H3Event): boolean {
  const remote = event.node.req.socket.remoteAddress ?? ''
  const host = (getRequestHeader(event, 'host') ?? '').replace(/:\d+$/, '')
  return ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(remote) && ['127.0.0.1', 'localhost', '[::1]'].includes(host)
    && getRequestHeader(event, 'x-forwarded-for') === undefined
}
