import { index, integer, pgTable, bigint, smallint, text, timestamp, uuid, varchar } from 'drizzle-orm/pg-core'
import { accounts } from './accounts'

/** Sessions: a cookie is valid while its session is here. */
export const sessions = pgTable(
  'sessions',
  {
    /** The id that is sealed in the cookie. */
    id: text().primaryKey(),
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  table => [index('sessions_by_owner').on(table.ownerId)],
)

/** Tries at passwords, counted for all copies of the server (the columns that rate-limiter-flexible writes). */
export const tries = pgTable('tries', {
  key: varchar({ length: 255 }).primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
})

/** One row that is written again and again: whether writing is possible. */
export const heartbeat = pgTable('heartbeat', {
  id: smallint().primaryKey(),
  at: timestamp({ withTimezone: true }).notNull(),
})
