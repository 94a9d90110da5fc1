/** The code of a database error: PostgreSQL's, or the connection's; undefined for any other. */
export function databaseCode(error: unknown): string | undefined {
  for (let one = error; one instanceof Error; one = one.cause) {
    const { code } = one as { code?: unknown }
    if (typeof code === 'string') return code
  }
  return undefined
}

/**
 * Connections that cannot be made or break (Node.js); PostgreSQL's classes 08 (connection), 53 (no room left, disk or
 * connections), 57 (being shut down, or a query that took too long), 58 (its disk), and 25006 (writing is not
 * possible).
 */
const AWAY = /^(ECONN|EPIPE|ETIMEDOUT|EHOSTUNREACH|ENOTFOUND|08|53|57|58|25006)/
/** What `pg` says without a code. */
const AWAY_WORDS =
  /timeout exceeded when trying to connect|Connection terminated|Query read timeout|client has encountered a connection error|the database system is|not queryable/i

/** Whether the database is away, full or hanging, and may be back soon. */
export function isDatabaseAway(error: unknown): boolean {
  if (AWAY.test(databaseCode(error) ?? '')) return true
  for (let one = error; one instanceof Error; one = one.cause) if (AWAY_WORDS.test(one.message)) return true
  return false
}
