/** The tables: an arrangement is its newest snapshot and the journal after it. */
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';

export const arrangements = sqliteTable(
  'arrangements',
  {
    id: text('id').primaryKey(),
    /** What the library shows, as JSON, so that listing opens nothing. */
    summary: text('summary').notNull(),
    revision: integer('revision').notNull(),
    /** How many entries of the history are in force, and how many there are. */
    position: integer('position').notNull().default(0),
    length: integer('length').notNull().default(0),
    /** The form its snapshots and journal are stored in; an earlier one is brought up to date when it is opened. */
    form: integer('form').notNull().default(1),
    createdAt: text('created_at').notNull(),
    changedAt: text('changed_at').notNull(),
    /** Set while it lies in the bin. */
    deletedAt: text('deleted_at'),
  },
  (table) => [index('arrangements_changed').on(table.changedAt)],
);

export const snapshots = sqliteTable(
  'snapshots',
  {
    arrangementId: text('arrangement_id')
      .notNull()
      .references(() => arrangements.id, { onDelete: 'cascade' }),
    revision: integer('revision').notNull(),
    /** How the history stood. */
    position: integer('position').notNull().default(0),
    length: integer('length').notNull().default(0),
    data: text('data').notNull(),
  },
  (table) => [primaryKey({ columns: [table.arrangementId, table.revision] })],
);

export const journal = sqliteTable(
  'journal',
  {
    arrangementId: text('arrangement_id')
      .notNull()
      .references(() => arrangements.id, { onDelete: 'cascade' }),
    /** The arrangement's revision after this entry. */
    revision: integer('revision').notNull(),
    entry: text('entry').notNull(),
    /** For an Edit its place in the history, from 0; of several at one place the newest counts. */
    place: integer('place').notNull().default(0),
    /** An Edit's label; null for a move of the pointer. */
    label: text('label'),
    writtenAt: text('written_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.arrangementId, table.revision] }),
    index('journal_place').on(table.arrangementId, table.place),
  ],
);

/** Plans that a person named, for use in any arrangement. */
export const plans = sqliteTable('plans', {
  name: text('name').primaryKey(),
  data: text('data').notNull(),
  changedAt: text('changed_at').notNull(),
});

/** Sentences that a person named, for use in any arrangement. */
export const sentences = sqliteTable('sentences', {
  name: text('name').primaryKey(),
  data: text('data').notNull(),
  changedAt: text('changed_at').notNull(),
});
