import { database } from '../database/connection'
import type { H3Event } from 'h3'
import { beginSession } from '../database/queries/sessions'
import type { RegistrationPolicy } from '../use-cases/registration'

/** Deployment options (docs/reliability.md): behind a trusted proxy; with HSTS; with registration closed. */
const isBehindProxy = (): boolean => process.env.HALF_STEP_PROXY === '1'
export const asksForTls = (): boolean => process.env.HALF_STEP_HSTS === '1'
const isRegistrationClosed = (): boolean => process.env.HALF_STEP_REGISTRATION === 'closed'

/** How somebody who comes in here finds the door. */
export const registrationPolicyOf = (event: H3Event): RegistrationPolicy => ({
  isOwn: isOwnMode(),
  isHere: isLoopback(event),
  isClosed: isRegistrationClosed(),
})

/** Where a request comes from: the connection's address, or the last one that the proxy names. */
export function addressOf(event: H3Event): string {
  const named = isBehindProxy() ? getRequestHeader(event, 'x-forwarded-for')?.split(',').at(-1)?.trim() : undefined
  return named || event.node.req.socket.remoteAddress || 'unknown'
}

/** Whether the visitor came over TLS, to here or to the proxy before it. */
export const isOverTls = (event: H3Event): boolean =>
  (event.node.req.socket as { encrypted?: boolean }).encrypted === true ||
  (isBehindProxy() && getRequestHeader(event, 'x-forwarded-proto') === 'https')

const cookieFor = (event: H3Event) => ({
  cookie: { httpOnly: true, sameSite: 'lax' as const, path: '/', secure: isOverTls(event) },
})

/**
 * Signs somebody in: a new session, stored so that it can be ended. `isOpen`: without a password, as the only player
 * here.
 */
export async function beginSessionFor(
  event: H3Event,
  { id, name }: { id: string; name: string },
  { isOpen = false } = {},
): Promise<void> {
  const sessionId = crypto.randomUUID()
  await beginSession(database(), sessionId, id)
  await replaceUserSession(
    event,
    { user: { id, name, isDemo: false, ...(isOpen ? { isOpen } : {}) }, secure: { sessionId } },
    cookieFor(event) as never,
  )
}

/**
 * The demo's player, for a visitor of the demo. The session is one and the same from here on: the page that is rendered
 * for this request reads it too.
 */
export const beginDemoFor = async (event: H3Event, { id, name }: { id: string; name: string }): Promise<void> =>
  void (await setUserSession(event, { user: { id, name, isDemo: true } }, cookieFor(event) as never))
