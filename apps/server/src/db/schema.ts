/** The tables: an arrangement is its newest snapshot and the journal after it. Large values are packed (packing.ts). */
import { blob, index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';

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
    /** So many of the oldest entries of the history were folded away. */
    folded: integer('folded').notNull().default(0),
    /** The form its snapshots and journal are stored in; an earlier one is brought up to date when it is opened. */
    form: integer('form').notNull().default(1),
    createdAt: text('created_at').notNull(),
    changedAt: text('changed_at').notNull(),
    /** Words of the person's own by which it is found, as a JSON list. */
    tags: text('tags').notNull().default('[]'),
    /** What the Desk found when it last looked it through, as JSON, and the revision that it saw. */
    glance: text('glance'),
    glanceRevision: integer('glance_revision'),
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
    /** As JSON where it was written before there was `packed`; else empty. */
    data: text('data').notNull(),
    /** As {@link packed} makes it. */
    packed: blob('packed', { mode: 'buffer' }),
    /** True for a point that the history may be folded to. */
    kept: integer('kept', { mode: 'boolean' }).notNull().default(false),
    writtenAt: text('written_at').notNull().default(''),
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
    /** As JSON where it was written before there was `packed`; else empty. */
    entry: text('entry').notNull(),
    /** As {@link packed} makes it. */
    packed: blob('packed', { mode: 'buffer' }),
    /** How many notes an Edit touches; null where it was not counted yet. */
    touched: integer('touched'),
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

/** Recordings beside the notes; their files lie in a folder beside the database. */
export const recordings = sqliteTable(
  'recordings',
  {
    id: text('id').notNull(),
    arrangementId: text('arrangement_id')
      .notNull()
      .references(() => arrangements.id, { onDelete: 'cascade' }),
    mediaType: text('media_type').notNull(),
    /** The name of its file: the SHA-256 of what it holds; of an earlier release its id. */
    file: text('file').notNull().default(''),
    addedAt: text('added_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.arrangementId, table.id] })],
);

/** The SoundFont that parts may sound by; its file lies in a folder beside the database. */
export const soundFonts = sqliteTable('soundfonts', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  bytes: integer('bytes').notNull(),
  /** The name of its file, as for recordings. */
  file: text('file').notNull().default(''),
});

/** Who is signed in: what a cookie holds, as a SHA-256, with its last use and its end (ISO 8601). */
export const sessions = sqliteTable('sessions', {
  hash: text('hash').primaryKey(),
  /** What the browser calls it, which is no secret; it stays the same where an ended one is begun again. */
  name: text('name').notNull(),
  createdAt: text('created_at').notNull(),
  usedAt: text('used_at').notNull(),
  endsAt: text('ends_at').notNull(),
});

/** What the server did by itself and tells in the library, until somebody has read it. */
export const notices = sqliteTable('notices', {
  id: integer('id').primaryKey({ autoIncrement: true }),
  text: text('text').notNull(),
  at: text('at').notNull(),
});

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

/** Feels that a person named, for use in any arrangement. */
export const feels = sqliteTable('feels', {
  name: text('name').primaryKey(),
  data: text('data').notNull(),
  changedAt: text('changed_at').notNull(),
});

/** Writes by the id that their request had: one that comes again is answered as the first time. */
export const writes = sqliteTable(
  'writes',
  {
    requestId: text('request_id').primaryKey(),
    arrangementId: text('arrangement_id')
      .notNull()
      .references(() => arrangements.id, { onDelete: 'cascade' }),
    /** The revision that it led to. */
    revision: integer('revision').notNull(),
    writtenAt: text('written_at').notNull(),
  },
  (table) => [index('writes_written').on(table.writtenAt)],
);
