import { database } from '../database/connection'
import { databaseCode, isDatabaseAway } from '../database/errors'
import { STATUS_CODES } from 'node:http'
import type { EventHandlerRequest, H3Event } from 'h3'
import { ServerBusy, JobLimitExceeded } from '../heavy/pool'
import { NotExact } from '#core/music/quarters'
import { Refusal } from '../use-cases/refusal'
import { BUSY_HEADER } from '#shared/utils/kept-answers'
import type { Database } from '../database/connection'

interface RouteContext {
  event: H3Event
  playerId: string
  db: Database
  /** Aborted when the client disconnects. */
  signal: AbortSignal
}

/**
 * A route for a signed-in player. Its answers are cached nowhere but with the player; a refusal becomes an answer that
 * says so rather than a server error.
 */
export const forPlayer = <Answer>(handle: (asked: RouteContext) => Promise<Answer>) =>
  defineEventHandler<EventHandlerRequest, Promise<Answer>>(
    async event =>
      await handleErrors(
        event,
        async () =>
          await handle({ event, playerId: await requirePlayerId(event), db: database(), signal: abortSignalOf(event) }),
      ),
  )

/** A route for anybody. */
export const forAnybody = <Answer>(handle: (asked: Omit<RouteContext, 'playerId'>) => Promise<Answer>) =>
  defineEventHandler<EventHandlerRequest, Promise<Answer>>(
    async event =>
      await handleErrors(event, async () => await handle({ event, db: database(), signal: abortSignalOf(event) })),
  )

async function handleErrors<Answer>(event: H3Event, handle: () => Promise<Answer>): Promise<Answer> {
  setResponseHeader(event, 'cache-control', 'no-store')
  try {
    return await handle()
  } catch (error) {
    if (event.node.res.closed) return undefined as Answer
    throw httpErrorFor(event, error)
  }
}

function abortSignalOf(event: H3Event): AbortSignal {
  const gone = new AbortController()
  event.node.res.once('close', () => {
    if (!event.node.res.writableFinished) gone.abort()
  })
  return gone.signal
}

/** How soon to ask again while the database does not answer, seconds. */
const DATABASE_RETRY_SECONDS = 5

/** The HTTP error for what was thrown; an unknown error stays a server error. */
function httpErrorFor(event: H3Event, error: unknown): unknown {
  if (error instanceof Refusal) {
    if (error.retryAfterSeconds !== undefined) setResponseHeader(event, 'retry-after', error.retryAfterSeconds)
    return answer(error.status, error.message)
  }
  if (error instanceof ServerBusy) {
    setResponseHeaders(event, { 'retry-after': error.retryAfterSeconds, [BUSY_HEADER]: '1' })
    return answer(503, error.message)
  }
  if (error instanceof JobLimitExceeded) return answer(422, error.message)
  if (isDatabaseAway(error)) {
    setResponseHeader(event, 'retry-after', DATABASE_RETRY_SECONDS)
    return answer(503, 'the database does not answer; nothing was lost, please try again in a moment')
  }
  if (error instanceof NotExact) return answer(422, error.message)
  const code = databaseCode(error)
  if (code === undefined || !isOfQuery(error)) return error
  // PostgreSQL, class 22: a value that no column can hold. The schemas refuse them; this is the net below.
  if (/^22/.test(code)) return answer(422, 'a value of this request cannot be kept')
  // What was asked is not told to the log: names, words and hashes stand in it.
  console.error(`the database refused a query (${code}): ${error.cause instanceof Error ? error.cause.message : ''}`)
  return answer(500, 'the database refused a query')
}

const answer = (statusCode: number, message: string) =>
  createError({ statusCode, statusMessage: STATUS_CODES[statusCode], message })

const isOfQuery = (error: unknown): error is Error => error instanceof Error && 'query' in error
