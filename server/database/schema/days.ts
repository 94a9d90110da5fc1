import type { SessionItemName } from '#core/coach/session'
import { date, integer, jsonb, pgTable, primaryKey, text, timestamp, uuid } from 'drizzle-orm/pg-core'
import { accounts } from './accounts'

/**
 * An item of a session that the player did not want, by what it is called by; older ones as it was offered, in words.
 */
export interface SkippedItem {
  id: string
  what?: SessionItemName
  text?: string
  at: string
}

/**
 * A player's day: how long the session was to be, what was skipped of it, and what the player says of it. What was
 * played stands in the passes.
 */
export const days = pgTable(
  'days',
  {
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    day: date().notNull(),
    minutes: integer().notNull(),
    skipped: jsonb().$type<SkippedItem[]>().notNull().default([]),
    note: text().notNull().default(''),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  table => [primaryKey({ columns: [table.ownerId, table.day], name: 'days_of_player' })],
)
