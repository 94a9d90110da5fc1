import type { StoredRecord } from '#core/coach/record'
import { integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import { songs } from './songs'

/**
 * The record of a song's passes up to one of them, so that only newer ones are read. Deleted whenever its basis
 * changes.
 */
export const records = pgTable('records', {
  songId: uuid()
    .primaryKey()
    .references(() => songs.id, { onDelete: 'cascade' }),
  /**
   * A hash of everything the record follows from beside the passes: notes, parts, settings, time zone, the program
   * itself.
   */
  basis: text().notNull(),
  /** The ordinal of the newest pass of the player that it knows of. */
  upTo: integer().notNull(),
  record: jsonb().$type<StoredRecord>().notNull(),
})
