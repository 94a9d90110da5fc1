import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import * as schema from './schema'

export type Database = NodePgDatabase<typeof schema>
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0]
/** The database, or a transaction in it. */
export type Queries = Database | Transaction

/**
 * A query of a request is given up after this, and so is waiting for a connection, ms: the database is away, full or
 * hanging then.
 */
const GIVE_UP = { connecting: 3_000, statement: 8_000, answer: 9_000 } as const

let pool: pg.Pool | undefined
let handle: Database | undefined

/** Where the database is. */
export function databaseUrl(): string {
  const connectionString = process.env.DATABASE_URL
  if (!connectionString) throw new Error('DATABASE_URL is not set: the address of a PostgreSQL database is needed')
  return connectionString
}

/** The pool of connections this process keeps; made at first use. */
export function databasePool(): pg.Pool {
  if (!pool) {
    pool = new pg.Pool({
      connectionString: databaseUrl(),
      max: 10,
      connectionTimeoutMillis: GIVE_UP.connecting,
      statement_timeout: GIVE_UP.statement,
      query_timeout: GIVE_UP.answer,
      keepAlive: true,
    })
    // An idle connection that breaks is replaced at the next query; without a listener it would end the process.
    pool.on('error', error => console.error('database connection lost:', error.message))
    // A lost connection in use fails its query, which is reported; it must not end the process as well.
    pool.on('connect', client => void client.on('error', () => {}))
  }
  return pool
}

export function database(): Database {
  handle ??= drizzle(databasePool(), { schema, casing: 'snake_case' })
  return handle
}

/** A query of long work is given up after this, ms. */
const LONG_STATEMENT_MS = 120_000

/**
 * Does long work on a connection of its own, so that requests do not wait for one, and without the time limit of their
 * queries.
 */
export async function onOwnConnection<Made>(work: (db: Database) => Promise<Made>): Promise<Made> {
  const client = new pg.Client({
    connectionString: databaseUrl(),
    connectionTimeoutMillis: GIVE_UP.connecting,
    statement_timeout: LONG_STATEMENT_MS,
    keepAlive: true,
  })
  // A broken connection fails its query, which is reported; it must not end the process as well.
  client.on('error', () => {})
  await client.connect()
  try {
    return await work(drizzle(client, { schema, casing: 'snake_case' }))
  } finally {
    await client.end().catch(() => {})
  }
}

export async function closeDatabase(): Promise<void> {
  await pool?.end()
  pool = handle = undefined
}
