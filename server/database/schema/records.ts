import type { StoredRecord } from '#core/coach/record'
import { integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import { songs } from './songs'

/**
 * What the passes of a song said up to one of them, so that only newer ones are read. Thrown away whenever what it
 * rests on has changed.
 */
export const records = pgTable('records', {
  songId: uuid()
    .primaryKey()
    .references(() => songs.id, { onDelete: 'cascade' }),
  /**
   * A hash of all that the record follows from beside the passes: notes, parts, settings, time zone, the program
   * itself.
   */
  basis: text().notNull(),
  /** The ordinal of the newest pass of the player that it knows of. */
  upTo: integer().notNull(),
  record: jsonb().$type<StoredRecord>().notNull(),
})
