import { databasePool } from '../database/connection'
import { databaseCode } from '../database/errors'

/** Probe interval and how old an answer may be, ms. */
const PROBE_INTERVAL_MS = 2_000
const MAX_AGE_MS = 5_000

/** What is known of the database: whether it answers, and whether writing is possible. */
export interface Health {
  ready: boolean
  database: 'answers' | 'away' | 'starting'
  writing: boolean
}

let found: Omit<Health, 'ready'> = { database: 'starting', writing: false }
let foundAtMs = 0

export function health(): Health {
  const isLate = found.database === 'answers' && Date.now() - foundAtMs > MAX_AGE_MS
  const now = isLate ? { database: 'away' as const, writing: false } : found
  return { ready: now.database === 'answers' && now.writing, ...now }
}

/** Probes the database by writing one row again and again, until stopped. */
export function startHealthProbe(): () => void {
  let isBusy = false
  const look = async () => {
    if (isBusy) return
    isBusy = true
    try {
      await databasePool().query(
        'insert into heartbeat (id, at) values (1, now()) on conflict (id) do update set at = now()',
      )
      found = { database: 'answers', writing: true }
    } catch (error) {
      // Read-only, or no room left: it answers all the same.
      found = { database: /^(25006|53)/.test(databaseCode(error) ?? '') ? 'answers' : 'away', writing: false }
    }
    foundAtMs = Date.now()
    isBusy = false
  }
  void look()
  const timer = setInterval(() => void look(), PROBE_INTERVAL_MS)
  return () => clearInterval(timer)
}
