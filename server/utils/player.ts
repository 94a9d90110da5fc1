import { database } from '../database/connection'
import type { H3Event } from 'h3'
import { isSignedIn } from '../database/queries/sessions'
import { Refusal } from '../use-cases/refusal'

/**
 * The signed-in player's id; throws a 401 without a session, for one that was ended, and for the demo's player from
 * another machine.
 */
export async function requirePlayerId(event: H3Event): Promise<string> {
  const { user, secure } = await getUserSession(event)
  if (!user || !(await isCurrent(event, user, secure?.sessionId)))
    throw new Refusal(401, 'you are not signed in (any more); please sign in again')
  return user.id
}

/** Whether what a cookie says still holds. */
export async function isCurrent(
  event: H3Event,
  user: { id: string; isDemo: boolean },
  sessionId: string | undefined,
): Promise<boolean> {
  if (user.isDemo) return isDemoMode() && isLoopback(event)
  return sessionId !== undefined && (await isSignedIn(database(), sessionId, user.id))
}

/** What somebody between here and the visitor adds to a request. */
const FORWARDING = [
  'forwarded',
  'via',
  'x-forwarded-for',
  'x-forwarded-host',
  'x-forwarded-proto',
  'x-forwarded-port',
  'x-forwarded-server',
  'x-real-ip',
  'x-client-ip',
  'true-client-ip',
  'cf-connecting-ip',
] as const

/**
 * Whether the request comes directly from this machine and is addressed to it by name, without another site, host or
 * proxy in between. A request made while a page is rendered here counts as coming from where the page was requested:
 * the page's context comes with it (Nitro's `__unenv__`).
 */
export function isLoopback(event: H3Event): boolean {
  const { __unenv__: page } = event.node.req as { __unenv__?: Asked }
  return ((event.context as Asked).isLoopback ??= page ? page.isLoopback === true : comesFromHere(event))
}

interface Asked {
  isLoopback?: boolean
}

function comesFromHere(event: H3Event): boolean {
  const remote = event.node.req.socket.remoteAddress ?? ''
  const host = (getRequestHeader(event, 'host') ?? '').replace(/:\d+$/, '')
  return (
    ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(remote) &&
    ['127.0.0.1', 'localhost', '[::1]'].includes(host) &&
    FORWARDING.every(header => getRequestHeader(event, header) === undefined)
  )
}
