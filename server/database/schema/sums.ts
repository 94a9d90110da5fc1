import {
  bigint,
  date,
  foreignKey,
  index,
  integer,
  pgTable,
  real,
  text,
  timestamp,
  unique,
  uuid,
} from 'drizzle-orm/pg-core'
import { handsEnum } from './passes'
import { accounts } from './accounts'
import { songs } from './songs'

/**
 * Daily sums over passes of the same notes: years of practice are read from here. Updated as passes come in, and
 * computed again when the player's days change (another time zone).
 */
export const sums = pgTable(
  'sums',
  {
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    /** In the player's time zone. */
    day: date().notNull(),
    songId: uuid().notNull(),
    /** As named by the passes; it may have been removed. */
    partId: uuid(),
    hands: handsEnum().notNull(),
    notesKey: text(),
    passes: integer().notNull(),
    clean: integer().notNull(),
    lengthMs: bigint({ mode: 'number' }).notNull(),
    /** Of passes with the click and more than three right notes: the sum, ms, and how many. */
    unsteadinessMs: real().notNull(),
    steadyPasses: integer().notNull(),
    /** The fastest clean pass with the click. */
    cleanBpm: real(),
    lastAt: timestamp({ withTimezone: true }).notNull(),
  },
  table => [
    foreignKey({
      columns: [table.ownerId, table.songId],
      foreignColumns: [songs.ownerId, songs.id],
      name: 'sums_song',
    }).onDelete('cascade'),
    unique('sums_of')
      .on(table.ownerId, table.day, table.songId, table.partId, table.hands, table.notesKey)
      .nullsNotDistinct(),
    index('sums_by_song').on(table.songId),
    index('sums_by_notes').on(table.ownerId, table.notesKey),
  ],
)
