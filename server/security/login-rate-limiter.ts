import { databasePool } from '../database/connection'
import type pg from 'pg'
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'

/** Failures allowed per name and address, name, address; and new accounts per address. Durations in seconds. */
const ALLOWED = {
  pair: { points: 8, duration: 15 * 60 },
  name: { points: 60, duration: 60 * 60 },
  address: { points: 100, duration: 15 * 60 },
  fresh: { points: 20, duration: 60 * 60 },
} as const

/** Counts tries at passwords in the database, for all copies of the server together. */
export class LoginRateLimiter {
  private readonly limits: Record<keyof typeof ALLOWED, RateLimiterPostgres>

  constructor(pool: pg.Pool) {
    const limit = (kind: keyof typeof ALLOWED) =>
      new RateLimiterPostgres({
        storeClient: pool,
        storeType: 'pool',
        tableName: 'tries',
        tableCreated: true,
        keyPrefix: kind,
        ...ALLOWED[kind],
      })
    this.limits = { pair: limit('pair'), name: limit('name'), address: limit('address'), fresh: limit('fresh') }
  }

  /** Counts one try and gives how long to wait, seconds; 0 when it is allowed. */
  async count(who: string, address: string): Promise<number> {
    const waits = await Promise.all([
      take(this.limits.pair, `${who} ${address}`),
      take(this.limits.name, who),
      take(this.limits.address, address),
    ])
    return Math.max(...waits)
  }

  /** Counts a new account. */
  async countNew(address: string): Promise<number> {
    return await take(this.limits.fresh, address)
  }

  /** The right password was given. */
  async forget(who: string, address: string): Promise<void> {
    await Promise.all([this.limits.pair.delete(`${who} ${address}`), this.limits.name.delete(who)])
  }
}

async function take(limit: RateLimiterPostgres, key: string): Promise<number> {
  try {
    await limit.consume(key)
    return 0
  } catch (answer) {
    if (answer instanceof RateLimiterRes) return Math.max(1, Math.ceil(answer.msBeforeNext / 1000))
    throw answer
  }
}

let kept: { of: pg.Pool; limiter: LoginRateLimiter } | undefined
export function loginRateLimiter(): LoginRateLimiter {
  const pool = databasePool()
  if (kept?.of !== pool) kept = { of: pool, limiter: new LoginRateLimiter(pool) }
  return kept.limiter
}
