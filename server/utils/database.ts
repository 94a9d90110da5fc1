import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import * as schema from '../database/schema'

export type Database = NodePgDatabase<typeof schema>

let pool: pg.Pool | undefined
let handle: Database | undefined

/** The pool of connections this process keeps; made at first use. */
export function databasePool(): pg.Pool {
  if (!pool) {
    const connectionString = process.env.DATABASE_URL
    if (!connectionString) throw new Error('DATABASE_URL is not set: the address of a PostgreSQL database is needed')
    pool = new pg.Pool({ connectionString, max: 10 })
    // An idle connection that breaks is replaced at the next query; without a listener it would end the process.
    pool.on('error', error => console.error('database connection lost:', error.message))
  }
  return pool
}

export function database(): Database {
  handle ??= drizzle(databasePool(), { schema, casing: 'snake_case' })
  return handle
}

export async function closeDatabase(): Promise<void> {
  await pool?.end()
  pool = handle = undefined
}
