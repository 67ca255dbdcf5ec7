/**
 * Changes that are not on the server yet, kept in the browser's own storage (IndexedDB) until they are: a tab that ends takes
 * nothing with it. They are kept by session, arrangement and tab, in order.
 */
import { type JournalEntry, LARGEST_OUTBOX, notesTouched } from '@crispfold/core';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { api } from './api.js';

/** A change as it is kept. */
export interface KeptChange {
  readonly owner: string;
  readonly arrangement: string;
  /** The tab that made it. */
  readonly tab: string;
  /** The revision that it follows, and the place in the history at which it was made. */
  readonly follows: number;
  readonly position: number;
  /** ISO 8601. */
  readonly at: string;
  /** The name of the request that took it to the server, where one was sent. */
  readonly requestId: string | null;
  readonly entry: JournalEntry;
}

interface Schema extends DBSchema {
  changes: { key: number; value: KeptChange; indexes: { place: [string, string] } };
}

const NAME = 'crispfold';
/** What is not counted of a change takes about so much, in bytes; and a note that it touches. */
const BYTES = { change: 300, note: 150 } as const;
/** So long other tabs have to say that they are there, in milliseconds. */
const ANSWERS_WITHIN = 300;

/** About how large a change is, in bytes. */
const sizeOf = (entry: JournalEntry): number =>
  BYTES.change + (entry.kind === 'edit' ? notesTouched(entry.edit) * BYTES.note : 0);

const nameRows = async (db: IDBPDatabase<Schema>, keys: readonly number[], requestId: string): Promise<void> => {
  const tx = db.transaction('changes', 'readwrite', { durability: 'strict' });
  for (const key of keys) {
    const row = await tx.store.get(key);
    if (row) await tx.store.put({ ...row, requestId }, key);
  }
  await tx.done;
};

const forgetRows = async (db: IDBPDatabase<Schema>, keys: readonly number[]): Promise<void> => {
  const tx = db.transaction('changes', 'readwrite');
  for (const key of keys) await tx.store.delete(key);
  await tx.done;
};

/** Changes found of an earlier visit, oldest first, and their keys. */
export interface FoundChanges {
  readonly changes: readonly KeptChange[];
  readonly keys: readonly number[];
}

/** All that is kept in this browser. */
export class KeptChanges {
  private readonly channel = new BroadcastChannel('crispfold kept changes');

  constructor(
    private readonly db: Promise<IDBPDatabase<Schema>>,
    /** Who is signed in. */
    readonly owner: string,
    /** This tab's own name. */
    readonly tab: string,
  ) {
    this.channel.addEventListener('message', ({ data }: MessageEvent<string>) => {
      if (data === 'who is there?') this.channel.postMessage(tab);
    });
  }

  /** Changes of an arrangement that tabs made which are not there any more. */
  async found(arrangement: string): Promise<FoundChanges> {
    const there = await this.tabsThere();
    const db = await this.db;
    const index = db.transaction('changes').store.index('place');
    const changes: KeptChange[] = [];
    const keys: number[] = [];
    for await (const { value, primaryKey } of index.iterate(IDBKeyRange.only([this.owner, arrangement]))) {
      if (there.has(value.tab)) continue;
      changes.push(value);
      keys.push(primaryKey);
    }
    return { changes, keys };
  }

  /** How many are kept of the session, and of how many arrangements. */
  async counted(): Promise<{ readonly changes: number; readonly arrangements: number }> {
    const all = (await (await this.db).getAll('changes')).filter(({ owner }) => owner === this.owner);
    return { changes: all.length, arrangements: new Set(all.map(({ arrangement }) => arrangement)).size };
  }

  /** Forgets all of the session. */
  async forgetAll(): Promise<void> {
    const db = await this.db;
    const tx = db.transaction('changes', 'readwrite');
    for await (const cursor of tx.store) if (cursor.value.owner === this.owner) await cursor.delete();
    await tx.done;
  }

  /** Some that were found go to the server under this name. */
  async name(keys: readonly number[], requestId: string): Promise<void> {
    await nameRows(await this.db, keys, requestId);
  }

  /** Forgets some, by their keys. */
  async forget(keys: readonly number[]): Promise<void> {
    await forgetRows(await this.db, keys);
  }

  /** What this tab keeps of one arrangement; `onFull` is called once more waits than is kept. */
  outboxOf(arrangement: string, onFull: () => void): KeptOutbox {
    return new KeptOutbox(this.db, { owner: this.owner, arrangement, tab: this.tab }, onFull);
  }

  /** The names of other tabs that are there; this one is among them. */
  private async tabsThere(): Promise<Set<string>> {
    const there = new Set([this.tab]);
    const hear = ({ data }: MessageEvent<string>) => there.add(data);
    this.channel.addEventListener('message', hear);
    this.channel.postMessage('who is there?');
    await new Promise((resolve) => setTimeout(resolve, ANSWERS_WITHIN));
    this.channel.removeEventListener('message', hear);
    return there;
  }
}

/** A change that waits, before it is kept; `entry` is asked for when the screen has been drawn. */
export interface WaitingChange extends Pick<KeptChange, 'follows' | 'position'> {
  readonly entry: () => JournalEntry;
}

/**
 * The changes of one arrangement that wait in this tab, as they are kept: those that wait longest, without a gap. What is asked
 * of it is done in order.
 */
export class KeptOutbox {
  private line: Promise<void> = Promise.resolve();
  private rows: { readonly key: number; readonly size: number }[] = [];
  /** So many wait behind those that are kept, and are not: there was no room for the first of them. */
  private beyond = 0;

  constructor(
    private readonly db: Promise<IDBPDatabase<Schema>>,
    private readonly place: Pick<KeptChange, 'owner' | 'arrangement' | 'tab'>,
    private readonly onFull: () => void,
  ) {}

  /** Keeps a change that waits behind the others; `ready` comes first, so that the screen does. */
  push({ entry, ...place }: WaitingChange, ready: Promise<void>): void {
    this.inOrder(async () => {
      await ready;
      const own = entry();
      const size = sizeOf(own);
      const kept = this.rows.reduce((sum, row) => sum + row.size, size);
      const row: KeptChange = {
        ...this.place,
        ...place,
        at: new Date().toISOString(),
        requestId: null,
        entry: own,
      };
      const fits = this.beyond === 0 && kept <= LARGEST_OUTBOX;
      const key = fits ? await (await this.db).add('changes', row).catch(() => null) : null;
      if (key !== null) this.rows.push({ key, size });
      else {
        if (this.beyond === 0) this.onFull();
        this.beyond += 1;
      }
    });
  }

  /** The first so many go to the server under this name; resolves when that, and all before it, is kept. */
  named(count: number, requestId: string): Promise<void> {
    return this.inOrder(async () => {
      await nameRows(
        await this.db,
        this.rows.slice(0, count).map(({ key }) => key),
        requestId,
      );
    });
  }

  /** The first so many are on the server. */
  saved(count: number): void {
    this.inOrder(async () => {
      const gone = this.rows.splice(0, count);
      this.beyond = Math.max(0, this.beyond - (count - gone.length));
      await forgetRows(
        await this.db,
        gone.map(({ key }) => key),
      );
    });
  }

  /** Resolves when all that was asked for is done. */
  settled(): Promise<void> {
    return this.line;
  }

  /** These wait now in the place of all that did, and of others found of an earlier visit: all at once, or not at all. */
  replace(changes: readonly WaitingChange[], others: readonly number[]): void {
    this.inOrder(async () => {
      const at = new Date().toISOString();
      // Until it is done nothing is known to be kept.
      const own = this.rows;
      [this.rows, this.beyond] = [[], changes.length];
      const tx = (await this.db).transaction('changes', 'readwrite', { durability: 'strict' });
      for (const key of [...others, ...own.map((row) => row.key)]) await tx.store.delete(key);
      const rows: { key: number; size: number }[] = [];
      for (const { entry, ...place } of changes) {
        const row: KeptChange = { ...this.place, ...place, at, requestId: null, entry: entry() };
        rows.push({ key: await tx.store.add(row), size: sizeOf(row.entry) });
      }
      await tx.done;
      [this.rows, this.beyond] = [rows, 0];
    });
  }

  /** Where the browser keeps nothing (it is full, or in private), work goes on without. */
  private inOrder(work: () => Promise<void>): Promise<void> {
    this.line = this.line.then(work).catch(() => undefined);
    return this.line;
  }
}

/** Opens the storage for who is signed in; null where the browser has none. */
export const openKeptChanges = (owner: string): KeptChanges | null => {
  if (typeof indexedDB === 'undefined' || typeof BroadcastChannel === 'undefined') return null;
  const db = openDB<Schema>(NAME, 1, {
    upgrade: (made) => {
      made.createObjectStore('changes', { autoIncrement: true }).createIndex('place', ['owner', 'arrangement']);
    },
  });
  // A browser that refuses is asked once; each later use is told the same.
  db.catch(() => undefined);
  const tab = Array.from(crypto.getRandomValues(new Uint8Array(8)), (byte) => byte.toString(16)).join('');
  return new KeptChanges(db, owner, tab);
};

/** Whose changes they are where nobody has to sign in. */
const NOBODY = 'own';

/** What this browser keeps for who is signed in; null where that cannot be told, or nothing can be kept. */
export type KeptChangesHere = () => Promise<KeptChanges | null>;

/** Asks once who is signed in: that does not change while a page is open. */
export const createKeptChangesHere = (): KeptChangesHere => {
  let asked: Promise<KeptChanges | null> | null = null;
  return () => {
    asked ??= api.session().then(
      ({ name }) => openKeptChanges(name ?? NOBODY),
      () => {
        asked = null;
        return null;
      },
    );
    return asked;
  };
};
