import { sql } from 'drizzle-orm'
import type { CoachSettings } from '#core/coach/settings'
import type { Controls } from '#shared/utils/controls'
import type { KeyboardDelay, StandLook } from '#shared/utils/settings'
import type { SoundSettings } from '#shared/utils/sound'
import { boolean, integer, jsonb, pgEnum, pgTable, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core'

export const strictnessEnum = pgEnum('strictness', ['gentle', 'normal', 'strict'])

export const noteNamesEnum = pgEnum('note_names', ['letters', 'solfege', 'german'])

/** Who practises. Every other row belongs to one player. */
export const accounts = pgTable(
  'accounts',
  {
    id: uuid().primaryKey().defaultRandom(),
    name: text().notNull(),
    /** Null for a player who cannot sign in with a password: the demo's. */
    passwordHash: text(),
    isDemo: boolean().notNull().default(false),
    /** How much is asked of a pass. */
    strictness: strictnessEnum().notNull().default('normal'),
    /** How late the player's keyboard answers, ms: taken off every key. */
    keyboardDelayMs: integer().notNull().default(0),
    /** How far the hand reaches from thumb to little finger, half steps: no fingering goes further. */
    reachHalfSteps: integer().notNull().default(15),
    noteNames: noteNamesEnum().notNull().default('letters'),
    /** What the player has set of the coach; the defaults hold for the rest. */
    coach: jsonb().$type<Partial<CoachSettings>>().notNull().default({}),
    /** Minutes of a day's session. */
    sessionMinutes: integer().notNull().default(30),
    /** What piano keys and the pedal do on the Stand. */
    controls: jsonb().$type<Controls>().notNull().default({}),
    /** How the Stand looks; the defaults hold for what is not set. */
    stand: jsonb().$type<Partial<StandLook>>().notNull().default({}),
    /** Clicks, volumes, what sounds; the defaults hold for what is not set. */
    sound: jsonb().$type<Partial<SoundSettings>>().notNull().default({}),
    /** What was measured of keyboards. */
    delays: jsonb().$type<KeyboardDelay[]>().notNull().default([]),
    /** Where the player's days begin and end: a name of the IANA time zone database. */
    timeZone: text().notNull().default('UTC'),
    /** How many passes were ever kept: the newest one's ordinal. */
    passesKept: integer().notNull().default(0),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  table => [
    uniqueIndex('accounts_name').on(sql`lower(${table.name})`),
    uniqueIndex('accounts_one_demo')
      .on(table.isDemo)
      .where(sql`${table.isDemo}`),
  ],
)
