import type { HandPattern } from '#core/patterns/hand-pattern'
import { index, jsonb, pgTable, timestamp, uuid } from 'drizzle-orm/pg-core'
import { accounts } from './accounts'

/** A player's own patterns for a hand. */
export const patterns = pgTable(
  'patterns',
  {
    id: uuid().primaryKey().defaultRandom(),
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    document: jsonb().$type<HandPattern>().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    updatedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** What archives call it, where it came from one; null: by its own id. */
    archiveId: uuid(),
  },
  table => [index('patterns_by_owner').on(table.ownerId, table.createdAt)],
)
