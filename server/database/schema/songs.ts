import type { OwnLikeness } from '#core/parts/likeness'
import type { Arrangement } from '#core/music/arrangement'
import type { SongOrigin } from '#core/formats/song-origin'
import {
  date,
  foreignKey,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  real,
  text,
  timestamp,
  unique,
  uuid,
} from 'drizzle-orm/pg-core'
import { accounts } from './accounts'

/** What something is in a day: a song that is learned, a drill, or what is warmed up with. */
export const practiceRoleEnum = pgEnum('practice_role', ['song', 'drill', 'warm-up'])

export const songs = pgTable(
  'songs',
  {
    id: uuid().primaryKey().defaultRandom(),
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    title: text().notNull(),
    composer: text().notNull().default(''),
    /** What this edition of the song is called beside its others: "simple", "full"; '' while it is the only one. */
    edition: text().notNull().default(''),
    /** The song it is an edition of; null for the first. */
    editionOf: uuid(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    archivedAt: timestamp({ withTimezone: true }),
    /** When the player deleted it; it goes for good some days later. */
    deletedAt: timestamp({ withTimezone: true }),
    /** What archives call it, where it came from one; null: by its own id. */
    archiveId: uuid(),
    /** When the player wants to be ready, and at what share of the written tempo. */
    targetDate: date(),
    targetShare: real().notNull().default(1),
    role: practiceRoleEnum().notNull().default('song'),
    /** Where its notes come from. */
    origin: jsonb().$type<SongOrigin>().notNull().default({ kind: 'file' }),
    /**
     * Whose proposal of parts the player last took or declined: the version of what proposes them
     * (core/parts/propose.ts).
     */
    proposal: integer().notNull().default(1),
  },
  table => [
    // Referenced together, so that no row can belong to another player than its song does.
    unique('songs_owner_id').on(table.ownerId, table.id),
    foreignKey({
      columns: [table.ownerId, table.editionOf],
      foreignColumns: [table.ownerId, table.id],
      name: 'songs_edition_of',
    }).onDelete('cascade'),
    unique('songs_archive_id').on(table.ownerId, table.archiveId),
    index('songs_by_first_edition').on(table.editionOf),
  ],
)

/** A song's notes at one time. Never changed once passes point to it: an edit is a new revision. */
export const arrangements = pgTable(
  'arrangements',
  {
    id: uuid().primaryKey().defaultRandom(),
    ownerId: uuid().notNull(),
    songId: uuid().notNull(),
    revision: integer().notNull(),
    bars: integer().notNull(),
    document: jsonb().$type<Arrangement>().notNull(),
    /** For engraving: MusicXML whose notes carry the ids of the document. */
    musicXml: text().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  table => [
    foreignKey({
      columns: [table.ownerId, table.songId],
      foreignColumns: [songs.ownerId, songs.id],
      name: 'arrangements_song',
    }).onDelete('cascade'),
    unique('arrangements_owner_id').on(table.ownerId, table.id),
    unique('arrangements_revision').on(table.songId, table.revision),
  ],
)

/** A named stretch of an arrangement; its edges are exact fractions of quarter notes. */
export const parts = pgTable(
  'parts',
  {
    id: uuid().primaryKey().defaultRandom(),
    ownerId: uuid().notNull(),
    arrangementId: uuid().notNull(),
    place: integer().notNull(),
    name: text().notNull(),
    /** The section it lies in, by name; null where the song has none. */
    section: text(),
    fromN: integer().notNull(),
    fromD: integer().notNull(),
    toN: integer().notNull(),
    toD: integer().notNull(),
    /**
     * What the player says a hand of this part is like, where that differs from what was found: an earlier part, or
     * null for new.
     */
    ownLikeness: jsonb().$type<OwnLikeness>().notNull().default({}),
    /** What archives call it, where it came from one; null: by its own id. */
    archiveId: uuid(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  table => [
    foreignKey({
      columns: [table.ownerId, table.arrangementId],
      foreignColumns: [arrangements.ownerId, arrangements.id],
      name: 'parts_arrangement',
    }).onDelete('cascade'),
    unique('parts_owner_id').on(table.ownerId, table.id),
    index('parts_in_order').on(table.arrangementId, table.place),
  ],
)
