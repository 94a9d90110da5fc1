import type { Assessment } from '#core/ear/assessment'
import type { Finding, FindingKind } from '#core/ear/finding'
import type { Quarters } from '#core/music/quarters'
import type { SpanPlace } from '#core/music/stretch-place'
import {
  boolean,
  customType,
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
import { accounts, strictnessEnum } from './accounts'
import { arrangements, parts } from './songs'

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

export const handsEnum = pgEnum('hands', ['right', 'left', 'both'])
export const modeEnum = pgEnum('mode', ['steady', 'free', 'own-time'])

/** Recorded MIDI of one or more passes. */
export const takes = pgTable(
  'takes',
  {
    id: uuid().primaryKey().defaultRandom(),
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    midi: bytea().notNull(),
    createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
  },
  table => [unique('takes_owner_id').on(table.ownerId, table.id)],
)

/**
 * One time through a part, with the figures the Logbook sums. The id comes from the player's browser, so that
 * a pass sent twice is kept once. It remembers its own edges: a part may be moved or removed later.
 */
export const passes = pgTable(
  'passes',
  {
    id: uuid().primaryKey(),
    ownerId: uuid()
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    arrangementId: uuid().notNull(),
    partId: uuid().references(() => parts.id, { onDelete: 'set null' }),
    partName: text().notNull(),
    /** Where it lay when it was not the part as it is; null for the part, and for passes whose name says it. */
    place: jsonb().$type<SpanPlace>(),
    fromN: integer().notNull(),
    fromD: integer().notNull(),
    toN: integer().notNull(),
    toD: integer().notNull(),
    takeId: uuid().notNull(),
    hands: handsEnum().notNull(),
    mode: modeEnum().notNull(),
    strictness: strictnessEnum().notNull().default('normal'),
    /** What was taken off every key's time, ms. */
    keyboardDelayMs: integer().notNull().default(0),
    /** Quarter notes a minute. */
    bpm: real().notNull(),
    startedAt: timestamp({ withTimezone: true }).notNull(),
    lengthMs: integer().notNull(),
    notes: integer().notNull(),
    right: integer().notNull(),
    wrong: integer().notNull(),
    missed: integer().notNull(),
    extra: integer().notNull(),
    onTimeShare: real().notNull(),
    offsetMs: real().notNull(),
    driftPercent: real().notNull(),
    unsteadinessMs: real().notNull(),
    clean: boolean().notNull(),
    /** Large faults of touch, swing, dynamics and pedal beside it, by kind, largest first. */
    /** The player has called the place hard. */
    ownSpot: boolean().notNull().default(false),
    cleanBut: text().array().$type<FindingKind[]>().notNull().default([]),
    /** The outcome under an older judge, where it differed: what was reached with it stays reached. */
    cleanBefore: boolean(),
    /** The version of the ear that judged it. */
    ear: integer().notNull().default(1),
    score: integer().notNull(),
    /**
     * The first findings, from which the sentence is made. Null until a pass of the first judge has been judged again.
     */
    found: jsonb().$type<Finding[]>(),
    /** The sentence of the first judge, kept until its pass is judged again. */
    sentence: text(),
    /** The notes and hands that were played, as from `notesKey`; null for a recording of a whole song. */
    notesKey: text(),
    /** Where it failed, as exact fractions of quarter notes; null where that was not determined. */
    failed: jsonb().$type<Quarters[]>(),
    /** What the player says of it. */
    remark: text().notNull().default(''),
    /** The how-manieth pass of the player it was, in the order in which they were kept. */
    ordinal: integer().notNull(),
    savedAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
    /** What archives call it, where it came from one; null: by its own id. */
    archiveId: uuid(),
  },
  table => [
    foreignKey({
      columns: [table.ownerId, table.arrangementId],
      foreignColumns: [arrangements.ownerId, arrangements.id],
      name: 'passes_arrangement',
    }).onDelete('cascade'),
    foreignKey({
      columns: [table.ownerId, table.takeId],
      foreignColumns: [takes.ownerId, takes.id],
      name: 'passes_take',
    }),
    unique('passes_owner_id').on(table.ownerId, table.id),
    unique('passes_ordinal').on(table.ownerId, table.ordinal),
    unique('passes_archive_id').on(table.ownerId, table.archiveId),
    index('passes_by_take').on(table.takeId),
    index('passes_by_day').on(table.ownerId, table.startedAt.desc(), table.id.desc()),
    index('passes_by_part').on(table.ownerId, table.partId, table.hands, table.startedAt.desc()),
    index('passes_by_arrangement').on(table.arrangementId),
    index('passes_by_notes').on(table.ownerId, table.notesKey),
    index('passes_by_ear').on(table.ear),
  ],
)

/** The whole assessment of a pass: large, read one at a time, so apart from the figures. */
export const assessments = pgTable(
  'assessments',
  {
    passId: uuid().primaryKey(),
    ownerId: uuid().notNull(),
    document: jsonb().$type<Assessment>().notNull(),
  },
  table => [
    foreignKey({
      columns: [table.ownerId, table.passId],
      foreignColumns: [passes.ownerId, passes.id],
      name: 'assessments_pass',
    }).onDelete('cascade'),
  ],
)

/** The columns that follow from an assessment. */
export type JudgedColumns = Pick<
  typeof passes.$inferInsert,
  | 'notes'
  | 'right'
  | 'wrong'
  | 'missed'
  | 'extra'
  | 'onTimeShare'
  | 'offsetMs'
  | 'driftPercent'
  | 'unsteadinessMs'
  | 'clean'
  | 'cleanBut'
  | 'score'
  | 'ear'
  | 'found'
  | 'failed'
>

/** A pass to be kept, with its take as MIDI and its assessment. */
export interface JudgedPass {
  pass: Omit<typeof passes.$inferInsert, 'takeId' | 'ordinal'>
  midi: Uint8Array
  assessment: Assessment
}
