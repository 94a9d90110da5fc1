import { sql } from 'drizzle-orm'
import { boolean, pgTable, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core'

/** Who practises. Every other row belongs to one player. */
export const players = pgTable('players', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  /** Null for a player who cannot sign in with a password: the demo's. */
  passwordHash: text(),
  isDemo: boolean().notNull().default(false),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
}, table => [
  uniqueIndex('players_name').on(sql`lower(${table.name})`),
  uniqueIndex('players_one_demo').on(table.isDemo).where(sql`${table.isDemo}`),
])
